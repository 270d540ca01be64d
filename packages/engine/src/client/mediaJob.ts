import type { MediaJobInput } from '@mellow/model';
import { mediaJobSchema } from '@mellow/model';
import { openProcess } from './processChannel';

export interface JobOptions {
  /** Ends the job's process; the job then fails with "cancelled". */
  signal?: AbortSignal;
  /** The job is given up after so long without any progress. */
  stallMs?: number;
  onProgress?: (done: number, of: number | null) => void;
  onLog?: (level: 'info' | 'warn' | 'error', text: string) => void;
}

const usualStallMs = 60_000;

/**
 * Runs one media job in a process of its own. However long it takes, it goes on while it makes progress.
 * @throws with the job's own reason, or why its process ended
 */
export async function runMediaJob(input: MediaJobInput, options: JobOptions = {}): Promise<unknown> {
  const job = mediaJobSchema.parse(input);
  const { signal, stallMs = usualStallMs } = options;
  signal?.throwIfAborted();
  const channel = await openProcess('job');
  return new Promise((resolve, reject) => {
    const stops: (() => void)[] = [];
    const settle = (act: () => void): void => {
      clearTimeout(stall);
      signal?.removeEventListener('abort', onAbort);
      for (const stop of stops) stop();
      channel.kill();
      act();
    };
    const onAbort = (): void => settle(() => reject(new Error('It was cancelled.')));
    const onStall = (): void =>
      settle(() => reject(new Error(`It made no progress for ${Math.round(stallMs / 1000)} s and was ended.`)));
    let stall = setTimeout(onStall, stallMs);
    const goesOn = (): void => {
      clearTimeout(stall);
      stall = setTimeout(onStall, stallMs);
    };
    if (signal?.aborted) return onAbort();
    signal?.addEventListener('abort', onAbort);
    stops.push(
      channel.onEvent((event) => {
        if (event.type === 'progress') {
          goesOn();
          options.onProgress?.(event.done, event.of);
        } else if (event.type === 'log') options.onLog?.(event.level, event.text);
        else if (event.type === 'job-done') settle(() => resolve(event.result));
        else if (event.type === 'job-failed') settle(() => reject(new Error(event.text)));
      }),
      channel.onExit(({ code, signal: by, errors }) =>
        settle(() => reject(new Error(`Its process ended (${by ?? code}). ${errors}`.trim()))),
      ),
    );
    channel.send({ type: 'job', job });
  });
}
