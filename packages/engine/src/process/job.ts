import { errorText } from '@mellow/core';
import { engineCommandSchema, type EngineEvent } from '@mellow/model';
import { runJob } from './jobs';

/**
 * A process that runs one media job and ends: whatever happens in it, nothing else of the application waits for it.
 * It may be ended at any moment; what it leaves then is a file under a temporary name.
 */
const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event);
};

/** The last message has to be through before the process goes. */
const emitLast = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => process.exit(0));
  else process.exit(0);
};

/** Progress goes out five times a second at most. */
let toldMs = 0;
const tellProgress = (done: number, of: number | null): void => {
  if (performance.now() - toldMs < 200) return;
  toldMs = performance.now();
  emit({ type: 'progress', done, of });
};

process.once('message', (raw) => {
  const command = engineCommandSchema.safeParse(raw).data;
  if (command?.type !== 'job') return emitLast({ type: 'job-failed', text: 'The job was not understood.' });
  try {
    const result = runJob(command.job, {
      log: (level, text) => emit({ type: 'log', level, text }),
      progress: tellProgress,
    });
    emitLast({ type: 'job-done', result });
  } catch (error) {
    emitLast({ type: 'job-failed', text: errorText(error) });
  }
});
// Nobody is there to be told: the work is not wanted any more.
process.on('disconnect', () => process.exit(0));
process.on('SIGINT', () => {});
emit({ type: 'ready', pid: process.pid });
// A server that went while this process was loading is never told by an event.
if (!process.connected) process.exit(0);
