import { mediaJobSchema } from '@mellow/model';
import { openJournal, type JournalStep } from '../../src/files/journal';
import { runJob } from '../../src/process/jobs';

/**
 * A job whose process is killed at one of the steps that it notes: before the step is on the drive, or as soon as it is, that is before
 * the step itself. Job, journal, number of the step and "before" or "noted" are its arguments.
 */
const [jobText, journalPath, at, when] = process.argv.slice(2);
const job = mediaJobSchema.parse(JSON.parse(jobText ?? ''));
const journal = openJournal(journalPath ?? '');
let steps = 0;
const die = (): void => {
  process.kill(process.pid, 'SIGKILL');
  // The signal is on its way.
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0);
};
runJob(job, {
  log: () => {},
  progress: () => {},
  journal(step: JournalStep) {
    const isIt = ++steps === Number(at);
    if (isIt && when === 'before') die();
    journal(step);
    if (isIt && when === 'noted') die();
  },
});
// It has come to its end without so many steps; or whoever asked for it died before they could store what came of it.
process.exit(Number(at) > steps ? 7 : 0);
