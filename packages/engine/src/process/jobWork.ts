import { parentPort } from 'node:worker_threads';
import { errorText } from '@mellow/core';
import { engineCommandSchema, type EngineEvent } from '@mellow/model';
import { noJournal, openJournal } from '../files/journal';
import { runJob } from './jobs';

/** The thread that does the work of jobs, one after the other. */
const emit = (event: EngineEvent): void => parentPort?.postMessage(event);

/** Progress goes out five times a second at most. */
let toldMs = 0;
const progress = (done: number, of: number | null): void => {
  if (performance.now() - toldMs < 200) return;
  toldMs = performance.now();
  emit({ type: 'progress', done, of });
};

parentPort?.on('message', (raw) => {
  try {
    const command = engineCommandSchema.safeParse(raw).data;
    if (command?.type !== 'job') throw new Error('The job was not understood.');
    const { job, journal } = command;
    const log = (level: 'info' | 'warn' | 'error', text: string): void => emit({ type: 'log', level, text });
    const result = runJob(job, { log, progress, journal: journal === null ? noJournal : openJournal(journal) });
    emit({ type: 'job-done', result });
  } catch (error) {
    emit({ type: 'job-failed', text: errorText(error) });
  }
});
