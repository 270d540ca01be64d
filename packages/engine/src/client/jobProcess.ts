import type { MediaJobInput } from '@mellow/model';
import { openProcess, type ProcessChannel } from './processChannel';

/** A process for one job, and the way to say that the job has ended. */
export interface JobProcess {
  channel: ProcessChannel;
  /** It has run other jobs, and may have died since without anybody having heard of it yet. */
  rested: boolean;
  /** Where the job ended well its process may run another; otherwise it is killed. */
  release(well: boolean): void;
}

/**
 * What changes its process as a whole (priority, a driver's state) or may break it is done in one that nobody uses again. The others
 * read and write files: a process that did that well does it again, without being started and loading the library anew.
 */
const usesUp: ReadonlySet<MediaJobInput['kind']> = new Set([
  'encode-unpaced',
  'prove-encoder',
  'list-sounds',
  'list-cameras',
  'screen-look',
  'drive-test',
]);

/** It ends by itself some time after that. */
const keptMs = 8000;
/** Whatever a library leaves behind with each job goes with the process. */
const mostJobs = 40;

let resting: { channel: ProcessChannel; jobs: number; sinceMs: number; forget(): void } | null = null;

/** The process that rests, or a new one. @throws in words where none can be started */
export async function takeJobProcess(kind: MediaJobInput['kind']): Promise<JobProcess> {
  const rested = usesUp.has(kind) ? null : wake();
  const channel = rested?.channel ?? (await openProcess('job'));
  const jobs = (rested?.jobs ?? 0) + 1;
  return {
    channel,
    rested: rested !== null,
    release(well) {
      if (well && !usesUp.has(kind) && jobs < mostJobs && resting === null) rest(channel, jobs);
      else channel.kill();
    },
  };
}

function wake(): { channel: ProcessChannel; jobs: number } | null {
  if (!resting) return null;
  const { channel, jobs, sinceMs, forget } = resting;
  forget();
  if (performance.now() - sinceMs > keptMs) {
    channel.kill();
    return null;
  }
  channel.keepsRunning(true);
  return { channel, jobs };
}

function rest(channel: ProcessChannel, jobs: number): void {
  channel.keepsRunning(false);
  const stop = channel.onExit(() => forget());
  function forget(): void {
    stop();
    resting = null;
  }
  resting = { channel, jobs, sinceMs: performance.now(), forget };
}
