import { Worker } from 'node:worker_threads';
import type { EngineEvent } from '@mellow/model';

/**
 * A process that runs one media job and ends. The work is done in a thread, so that whatever it does, this loop hears at once when
 * nobody wants it any more, and beats as long as the process lives. It may be ended at any moment; what it leaves then stands in its
 * journal.
 */
const beatEveryMs = 1000;
/** A thread is at work, which may be inside the media library: the usual end would wait for it. */
let works = false;

const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};

/** The last message has to be through before the process goes. */
const emitLast = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => process.exit(0));
  else end();
};

/** At once, whatever the thread is in the middle of: nobody is there to be told. */
function end(): void {
  if (works) process.kill(process.pid, 'SIGKILL');
  else process.exit(0);
}

process.once('message', (raw) => {
  // The thread knows what a job is: this loop is there at once.
  works = true;
  const work = new Worker(new URL('./jobWork.mjs', import.meta.url), { workerData: raw });
  let told = false;
  const last = (event: EngineEvent): void => {
    if (!told) emitLast(event);
    told = true;
  };
  work.on('message', (event: EngineEvent) =>
    event.type === 'job-done' || event.type === 'job-failed' ? last(event) : emit(event),
  );
  work.on('error', (error) => last({ type: 'job-failed', text: error.message }));
  work.on('exit', (code) => last({ type: 'job-failed', text: `The work ended without a word (code ${code}).` }));
  setInterval(() => emit({ type: 'beat' }), beatEveryMs);
});
process.on('disconnect', end);
process.on('SIGINT', () => {});
emit({ type: 'ready', pid: process.pid });
// A server that went while this process was loading is never told by an event.
if (!process.connected) end();
