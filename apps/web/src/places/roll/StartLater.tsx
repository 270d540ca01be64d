import { useEffect, useRef, useState } from 'react';
import type { Setup } from '@mellow/model';
import { Button } from '../../parts/Button';
import { ProgramField } from '../../parts/ProgramField';
import { WordEditor } from '../../parts/WordMenu';
import { useSetWithGameMutation } from '../../store/api';

const countdownS = 10;

/** Ways to roll that leave the hands free: in some seconds, or with the game. */
export function StartLater({ setup, disabled, roll }: { setup: Setup; disabled: boolean; roll: () => void }) {
  const [leftS, setLeftS] = useState<number | null>(null);
  const now = useRef(roll);
  now.current = roll;
  useEffect(() => {
    if (leftS === null) return undefined;
    if (leftS === 0) {
      setLeftS(null);
      now.current();
      return undefined;
    }
    const timer = setTimeout(() => setLeftS(leftS - 1), 1000);
    return () => clearTimeout(timer);
  }, [leftS]);
  return (
    <div className="row start-later">
      {leftS === null ? (
        <Button disabled={disabled} onClick={() => setLeftS(countdownS)}>
          Roll in {countdownS} s
        </Button>
      ) : (
        <Button onClick={() => setLeftS(null)}>
          <span role="timer">
            Rolls in <span className="n">{leftS}</span> s
          </span>
          , let it be
        </Button>
      )}
      <WithGame setup={setup} />
    </div>
  );
}

/** "When Paper Comets starts": begins and ends a full take with a program. */
function WithGame({ setup }: { setup: Setup }) {
  const [set, { isLoading }] = useSetWithGameMutation();
  const { withGame } = setup;
  const name = withGame?.process ?? '';
  return (
    <span>
      {withGame?.on ? 'Rolls with ' : 'With the game: '}
      <WordEditor label="Program of the game" word={name || 'which program'}>
        {(close) => (
          <ProgramField
            name={name}
            choose={(process) => {
              close();
              void set({ setupId: setup.id, withGame: { process, on: withGame?.on ?? false } });
            }}
          />
        )}
      </WordEditor>{' '}
      {withGame && (
        <Button
          quiet
          busy={isLoading}
          onClick={() => void set({ setupId: setup.id, withGame: { ...withGame, on: !withGame.on } })}
        >
          {withGame.on ? 'Not any more' : 'Roll with it'}
        </Button>
      )}
    </span>
  );
}
