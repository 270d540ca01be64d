import { useState } from 'react';
import { createPortal } from 'react-dom';
import { capitalised, countWord, plural } from '@mellow/core';
import type { Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { DeleteTakeDialog } from '../../parts/DeleteTakeDialog';
import { useAppSelector } from '../../store/store';
import { useSetup } from '../shell/SetupFrame';
import { useKeys } from '../shell/useKeys';
import { TrialRows } from './TrialRows';
import { useTrial } from './useTrial';

/** All trials of a setup: what was changed, and what came of it. */
export function TrialsPlace() {
  const { setup, trials, tools } = useSetup();
  const [deleted, setDeleted] = useState<Take | null>(null);
  const lengthS = useAppSelector((state) => state.ui.trialLengthS);
  const trial = useTrial(setup);
  const make = () => void (trial.blocked || trial.make(lengthS));
  useKeys({ t: make });
  const keep = trials.filter((t) => t.verdict?.mark === 'keep').length;
  return (
    <>
      {tools &&
        createPortal(
          <Button main disabled={trial.blocked} busy={trial.busy} onClick={make}>
            Make a {lengthS} s trial <kbd>T</kbd>
          </Button>,
          tools,
        )}
      <h1 style={{ margin: '8px 0 16px' }}>
        {trials.length ? trialsWords(trials.length, keep) : 'No trial of this setup yet.'}
      </h1>
      <TrialRows trials={trials} onDelete={setDeleted} />
      {trials.length > 1 && (
        <p className="small soft" style={{ marginTop: 16 }}>
          Two trials are called equal where they differ less than repeats of one recipe do;{' '}
          {plural(trials.length, 'trial')} were looked at.
        </p>
      )}
      {deleted && <DeleteTakeDialog take={deleted} onClose={() => setDeleted(null)} />}
    </>
  );
}

/** "Three trials; one holds every limit." */
function trialsWords(count: number, keep: number): string {
  const trials = `${capitalised(countWord(count))} ${count === 1 ? 'trial' : 'trials'}`;
  if (keep === count)
    return `${trials}; ${count === 1 ? 'it holds' : 'all of them hold'} every limit that was measured.`;
  return keep
    ? `${trials}; ${countWord(keep)} ${keep === 1 ? 'holds' : 'hold'} every limit that was measured.`
    : `${trials}; none holds every limit yet.`;
}
