import type { RunningJob, Take } from '@mellow/model';
import { capitalised, takeName } from '@mellow/core';
import { problem, type ProblemError } from '../http/problem';
import type { Refusal } from './takeLife';

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
