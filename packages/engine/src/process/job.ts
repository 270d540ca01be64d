import { Worker } from 'node:worker_threads';
import type { EngineEvent } from '@mellow/model';

/**
 * A process that runs media jobs, one at a time, and ends when none comes for a while. The work is done in a thread, so that whatever
 * it does, this loop hears at once when nobody wants it any more, and beats as long as a job runs. It may be ended at any moment; what
 * it leaves then stands in the job's journal. After a job that failed it is of no more use.
 */
const beatEveryMs = 1000;
/** Longer than a client keeps it for its next job, by what a busy PC may hold a message up. */
const idleMs = 20_000;
/** The thread, and whether it is at work: that may be inside the media library, and the usual end would wait for it. */
let worker: Worker | null = null;
let works = false;
let idle: NodeJS.Timeout | undefined;

const emit = (event: EngineEvent): void => {
  if (process.connected) process.send?.(event, undefined, undefined, () => {});
};

/** At once, whatever the thread is in the middle of: nobody is there to be told. */
function end(): void {
  if (works) process.kill(process.pid, 'SIGKILL');
  else process.exit(0);
}

/** A job has ended, however it did. */
function ended(event: EngineEvent): void {
  if (!works) return;
  works = false;
  emit(event);
  rest();
}

function rest(): void {
  clearTimeout(idle);
  idle = setTimeout(end, idleMs);
}

function begin(): Worker {
  const thread = new Worker(new URL('./jobWork.mjs', import.meta.url));
  thread.on('message', (event: EngineEvent) =>
    event.type === 'job-done' || event.type === 'job-failed' ? ended(event) : emit(event),
  );
  thread.on('error', (error) => ended({ type: 'job-failed', text: error.message }));
  thread.on('exit', (code) => {
    worker = null;
    ended({ type: 'job-failed', text: `The work ended without a word (code ${code}).` });
  });
  return thread;
}

process.on('message', (raw) => {
  clearTimeout(idle);
  // The client knows from here on that it has begun.
  emit({ type: 'beat' });
  // The thread knows what a job is: this loop is there at once.
  works = true;
  worker ??= begin();
  worker.postMessage(raw);
});
setInterval(() => works && emit({ type: 'beat' }), beatEveryMs).unref();
process.on('disconnect', end);
process.on('SIGINT', () => {});
rest();
emit({ type: 'ready', pid: process.pid });
// A server that went while this process was loading is never told by an event.
if (!process.connected) end();
