import type { MediaJobInput } from '@mellow/model';
import { mediaJobSchema } from '@mellow/model';
import { takeJobProcess } from './jobProcess';

export interface JobOptions {
  /** Ends the job's process; the job then fails with "cancelled". */
  signal?: AbortSignal;
  /** The job is given up after so long without a sign of its process. */
  silentMs?: number;
  /** The job is given up after so long without any progress, however alive its process is. */
  stallMs?: number;
  /** Where it writes down what it does with files, for whoever has to clean up after it. */
  journal?: string;
  onProgress?: (done: number, of: number | null) => void;
  onLog?: (level: 'info' | 'warn' | 'error', text: string) => void;
}

/** The job itself said why it cannot be done; whatever else ends one says nothing of what it was to look at. */
export class JobRefusedError extends Error {}

const usualSilentMs = 60_000;
/** Whether it gets on is looked at so often. */
const lookEveryMs = 100;
/** A process that was killed is gone within so long, or a drive holds it up. */
const goneMs = 10_000;
/** Flushing a file of many gigabytes to a slow stick is one step. */
const usualStallMs = 30 * 60_000;

/**
 * Runs one media job in a process that runs nothing beside it. However long it takes, it goes on while it makes progress.
 * @throws with the job's own reason, or why its process ended
 */
export async function runMediaJob(input: MediaJobInput, options: JobOptions = {}): Promise<unknown> {
  const job = mediaJobSchema.parse(input);
  const { signal, silentMs = usualSilentMs, stallMs = usualStallMs, journal = null } = options;
  signal?.throwIfAborted();
  const { channel, rested, release } = await takeJobProcess(job.kind);
  let begun = false;
  return new Promise((resolve, reject) => {
    const stops: (() => void)[] = [];
    const patience = createPatience({ sign: silentMs, progress: stallMs }, (what, ms) =>
      fail(new Error(`It ${what} for ${Math.round(ms / 1000)} s and was ended.`)),
    );
    function settle(well: boolean): void {
      patience.end();
      signal?.removeEventListener('abort', onAbort);
      for (const stop of stops) stop();
      release(well);
    }
    /** Whoever cleans up after it does so when it cannot do anything any more. */
    function fail(error: Error): void {
      settle(false);
      const late = setTimeout(() => reject(error), goneMs);
      channel.onExit(() => {
        clearTimeout(late);
        reject(error);
      });
    }
    function onAbort(): void {
      fail(signal?.reason instanceof Error ? signal.reason : new Error('It was cancelled.'));
    }
    if (signal?.aborted) return onAbort();
    signal?.addEventListener('abort', onAbort);
    stops.push(
      channel.onEvent((event) => {
        patience.sign();
        begun = true;
        if (event.type === 'progress') {
          patience.progress();
          options.onProgress?.(event.done, event.of);
        } else if (event.type === 'log') options.onLog?.(event.level, event.text);
        else if (event.type === 'job-failed') fail(new JobRefusedError(event.text));
        else if (event.type === 'job-done') {
          settle(true);
          resolve(event.result);
        }
      }),
      channel.onExit(({ code, signal: by, errors }) => {
        if (begun || !rested) return fail(new Error(`Its process ended (${by ?? code}). ${errors}`.trim()));
        // It had died while it rested: nothing of this job has been done.
        settle(false);
        resolve(runMediaJob(input, options));
      }),
    );
    channel.send({ type: 'job', job, journal });
  });
}

/** Calls once when no sign, or no progress, has come for so long. */
function createPatience(limitMs: { sign: number; progress: number }, over: (what: string, ms: number) => void) {
  const last = { sign: performance.now(), progress: performance.now() };
  const timer = setInterval(() => {
    const now = performance.now();
    const late = now - last.sign > limitMs.sign ? 'sign' : now - last.progress > limitMs.progress ? 'progress' : null;
    if (late === null) return;
    clearInterval(timer);
    over(late === 'sign' ? 'gave no sign' : 'made no progress', limitMs[late]);
  }, lookEveryMs);
  return {
    sign: () => void (last.sign = performance.now()),
    progress: () => void (last.progress = performance.now()),
    end: () => clearInterval(timer),
  };
}
