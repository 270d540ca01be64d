import Dialog from '@mui/material/Dialog';
import { useState } from 'react';
import { gameDifferences, listWords } from '@mellow/core';
import type { Setup, Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { Icon } from '../../parts/Icon';
import { useChangeSetupMutation, useSetDraftMutation } from '../../store/api';
import { useTrial } from '../trials/useTrial';

/** Repeats a trial with its own recipe. Where the game was changed since, that is said, and both games are offered. */
export function RepeatTrial({ take, setup }: { take: Take; setup: Setup }) {
  const [asking, setAsking] = useState(false);
  const [setDraft] = useSetDraftMutation();
  const [changeSetup] = useChangeSetupMutation();
  const trial = useTrial({ ...setup, draft: take.recipe });
  const changed = gameDifferences(take.game, setup.game);
  const repeat = async (withItsGame: boolean) => {
    setAsking(false);
    if (withItsGame && 'error' in (await changeSetup({ id: setup.id, patch: { game: take.game } }))) return;
    if (JSON.stringify(setup.draft) !== JSON.stringify(take.recipe))
      if ('error' in (await setDraft({ id: setup.id, recipe: take.recipe }))) return;
    await trial.make(Math.min(600, take.lengthS ?? 10));
  };
  return (
    <>
      <Button
        disabled={trial.blocked}
        busy={trial.busy}
        onClick={() => (changed.length ? setAsking(true) : void repeat(false))}
      >
        <Icon name="again" />
        {changed.length ? 'Repeat' : 'Repeat unchanged'}
      </Button>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} aria-labelledby="repeat-title">
          <div className="dialog">
            <h2 id="repeat-title">The game was changed since trial {take.number}</h2>
            <p className="soft">
              In trial {take.number}: {listWords(changed)}. Only with the same game do two trials tell how much equal
              recipes differ.
            </p>
            <div className="dialog-actions">
              <Button onClick={() => void repeat(false)}>With the game as it is now</Button>
              <Button main autoFocus onClick={() => void repeat(true)}>
                With the game of trial {take.number}
              </Button>
            </div>
          </div>
        </Dialog>
      )}
    </>
  );
}
