import { mostCuts, type RunningJob, type Take, type TakeKind } from '@mellow/model';
import { capitalised, takeName } from '@mellow/core';
import { problem, type ProblemError } from '../errors/problem';
import type { Refusal } from './takeLife';

/** Why a take cannot be paused; null where it can. */
export function notPaused(kind: TakeKind, cuts: number): string | null {
  if (kind !== 'full')
    return 'Only full takes can be paused: what a trial measures would not hold with a hole in it. Stop it instead.';
  return cuts >= mostCuts ? `This take was paused ${mostCuts} times already; no more pauses are kept.` : null;
}

/** Why the recorder does not do what was asked, in words. */
export function refusalProblem(refusal: Refusal, take: Take | null, jobs: readonly RunningJob[]): ProblemError {
  const name = take ? capitalised(takeName(take)) : 'A take';
  switch (refusal) {
    case 'busy':
      return problem(
        'recorder-busy',
        `${name} is being made, and nothing else of ours runs beside it. Stop it, or wait until it is closed.`,
      );
    case 'job-running':
      return problem(
        'job-running',
        `${jobs[0]?.title ?? 'Other work'} runs and would cost the take frames. Wait for it, or end it at the top of the page.`,
      );
    case 'nothing-rolls':
      return problem('recorder-idle', 'Nothing is rolling, so nothing was stopped. The take has probably just ended.');
    case 'leaving':
      return problem('recorder-busy', 'The application is ending; nothing new begins. Start it again first.');
  }
}
