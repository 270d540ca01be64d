import { useNavigate } from 'react-router';
import { recipeClashes } from '@mellow/core';
import type { Setup, TakeKind } from '@mellow/model';
import { useMakeTrialMutation } from '../../store/api';
import { useAppSelector } from '../../store/store';

export interface TrialAction {
  /** Begins a trial of the draft and goes where it is seen live. */
  make: (lengthS: number | null) => Promise<void>;
  /** Why it cannot begin now: a take rolls, or the recipe clashes. */
  blocked: boolean;
  busy: boolean;
}

/** The way to a trial, or to a sample, the same from every place. */
export function useTrial(setup: Setup | null, kind: TakeKind = 'trial'): TrialAction {
  const navigate = useNavigate();
  const idle = useAppSelector((state) => (state.live.state?.recorder ?? 'idle') === 'idle');
  const [makeTrial, { isLoading }] = useMakeTrialMutation();
  const blocked = setup === null || !idle || recipeClashes(setup.draft).some((clash) => clash.weight === 'stops');
  return {
    blocked,
    busy: isLoading,
    async make(lengthS) {
      if (setup === null || !idle || isLoading) return;
      const result = await makeTrial({ setupId: setup.id, lengthS, kind });
      if (result.data) void navigate(`/setups/${setup.id}/roll`);
    },
  };
}
