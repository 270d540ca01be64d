import { useState } from 'react';
import { createPortal } from 'react-dom';
import { useNavigate } from 'react-router';
import { capitalised, countWord, plural, recipeClashes } from '@mellow/core';
import type { Take } from '@mellow/model';
import { Button } from '../../parts/Button';
import { DeleteTakeDialog } from '../../parts/DeleteTakeDialog';
import { useMakeTrialMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';
import { useSetup } from '../shell/SetupFrame';
import { useKeys } from '../shell/useKeys';
import { TrialRows } from './TrialRows';

/** All trials of a setup: what was changed, and what came of it. */
export function TrialsPlace() {
  const { setup, trials, tools } = useSetup();
  const [deleted, setDeleted] = useState<Take | null>(null);
  const navigate = useNavigate();
  const lengthS = useAppSelector((state) => state.ui.trialLengthS);
  const idle = useAppSelector((state) => (state.live.state?.recorder ?? 'idle') === 'idle');
  const [makeTrial, making] = useMakeTrialMutation();
  const stopped = recipeClashes(setup.draft).some((c) => c.weight === 'stops');
  const trial = async () => {
    if (!idle || stopped || making.isLoading) return;
    const result = await makeTrial({ setupId: setup.id, lengthS });
    if ('data' in result && result.data) void navigate(`/setups/${setup.id}/roll`);
  };
  useKeys({ t: () => void trial() });
  const keep = trials.filter((t) => t.verdict?.mark === 'keep').length;
  return (
    <>
      {tools && createPortal(<Button main disabled={!idle || stopped} busy={making.isLoading} onClick={() => void trial()}>Make a {lengthS} s trial <kbd>T</kbd></Button>, tools)}
      <h1 style={{ margin: '8px 0 16px' }}>
        {trials.length ? `${capitalised(countWord(trials.length))} ${trials.length === 1 ? 'trial' : 'trials'}; ${keep === trials.length ? (keep === 1 ? 'it lost nothing that counts' : 'all of them lost nothing that counts') : keep ? `${countWord(keep)} lost nothing that counts` : 'none without losses yet'}.` : 'No trial of this setup yet.'}
      </h1>
      <TrialRows trials={trials} onDelete={setDeleted} />
      {trials.length > 1 && <p className="small soft" style={{ marginTop: 16 }}>Two trials are called equal where they differ less than repeats of one recipe do; {plural(trials.length, 'trial')} were looked at.</p>}
      {deleted && <DeleteTakeDialog take={deleted} onClose={() => setDeleted(null)} />}
    </>
  );
}
