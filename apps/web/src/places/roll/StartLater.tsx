import type { Setup } from '@mellow/model';
import { Button } from '../../parts/Button';
import { ProgramField } from '../../parts/ProgramField';
import { WordEditor } from '../../parts/WordMenu';
import { useLetBeMutation, useRollSoonMutation, useSetWithGameMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';

const countdownS = 10;

/** Ways to roll that leave the hands free: in some seconds, counted by the program itself, or with the game. */
export function StartLater({ setup, disabled, lengthS }: { setup: Setup; disabled: boolean; lengthS: number | null }) {
  const soon = useAppSelector(({ live }) => live.state?.rollsSoon ?? null);
  const [rollSoon, { isLoading }] = useRollSoonMutation();
  const [letBe] = useLetBeMutation();
  return (
    <div className="row start-later">
      {soon?.setupId === setup.id ? (
        <Button onClick={() => void letBe()}>
          <span>
            <span role="timer">
              Rolls in <span className="n">{soon.leftS}</span> s
            </span>
            , let it be
          </span>
        </Button>
      ) : (
        <Button
          disabled={disabled}
          busy={isLoading}
          onClick={() => void rollSoon({ setupId: setup.id, inS: countdownS, lengthS })}
        >
          Roll in {countdownS} s
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
