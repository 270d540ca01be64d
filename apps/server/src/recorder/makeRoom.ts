import type { JobService } from '../files/jobs';
import type { LifeState } from './takeLife';

const patienceMs = 3000;
const lookEveryMs = 25;
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

export interface MakeRoomContext {
  jobs: Pick<JobService, 'giveWay'>;
  life(): LifeState;
  /** Resolves when the take that is being looked after has ended; null where there is none. */
  ended(): Promise<void> | null;
}

/** The last touches on an earlier take are waited for, and work that can be done later gives way; both for a moment only. */
export async function makeRoom({ jobs, life, ended }: MakeRoomContext): Promise<void> {
  if (life().phase === 'finishing') await Promise.race([ended(), pause(patienceMs)]);
  if (!jobs.giveWay()) return;
  await Promise.race([ended(), pause(patienceMs)]);
  for (let waitedMs = 0; life().jobs > 0 && waitedMs < patienceMs; waitedMs += lookEveryMs) await pause(lookEveryMs);
}
