import { closeSync, existsSync, fdatasyncSync, openSync, readFileSync, rmSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileIdentitySchema } from '@mellow/model';
import { z } from 'zod';
import { syncFolder, writeFully } from './durable';
import { giveBack, type Reservation } from './reserve';

/**
 * What a sequence of steps on files has done so far, and is about to do. It is on the drive before the step it names begins, so that
 * whoever comes after an end that nobody foresaw knows what lies where, and to whom it belongs.
 */
const stepSchema = z.discriminatedUnion('step', [
  /** A file under a name of the sequence's own is about to be made: it is nothing before it is whole. */
  z.object({ step: z.literal('temporary'), path: z.string() }),
  /** An empty file that keeps a name free. */
  z.object({ step: z.literal('reserved'), path: z.string(), identity: fileIdentitySchema }),
  /** A finished file, read back and compared, is about to take a place: whatever has this identity there is whole. */
  z.object({ step: z.literal('proven'), path: z.string(), identity: fileIdentitySchema }),
]);
export type JournalStep = z.infer<typeof stepSchema>;

/** Notes a step before it is done. @throws where it cannot be written down: the step is not done then */
export type Journal = (step: JournalStep) => void;

/** For work that nobody has to find again. */
export const noJournal: Journal = () => {};

/** Opens a sequence's journal; it is made with its first step. */
export function openJournal(path: string): Journal {
  return (step) => {
    const isNew = !existsSync(path);
    const handle = openSync(path, 'a');
    try {
      writeFully(handle, Buffer.from(`${JSON.stringify(step)}\n`), null);
      fdatasyncSync(handle);
    } finally {
      closeSync(handle);
    }
    if (isNew) syncFolder(dirname(path));
  };
}

/** Steps that a journal tells of; a line that was cut off was of a step that had not begun. */
export function journalSteps(path: string): JournalStep[] {
  if (!existsSync(path)) return [];
  const steps: JournalStep[] = [];
  for (const line of readFileSync(path, 'utf8').split('\n')) {
    const parsed = stepSchema.safeParse(jsonOf(line));
    if (!parsed.success) break;
    steps.push(parsed.data);
  }
  return steps;
}

/** Identity of the finished file that was about to take a place; null where it did not come to that. */
export const provenAt = (steps: readonly JournalStep[], path: string): Reservation['identity'] | null =>
  steps.reduce<Reservation['identity'] | null>(
    (found, step) => (step.step === 'proven' && step.path === path ? step.identity : found),
    null,
  );

/**
 * Undoes what a sequence left that did not come to its end: files under names of its own go, and names that are still kept free by its
 * empty files; what took their place stays. Then the journal goes.
 */
export function undoJournal(path: string): void {
  for (const step of journalSteps(path)) {
    if (step.step === 'temporary') rmSync(step.path, { force: true });
    if (step.step === 'reserved') giveBack(step);
  }
  rmSync(path, { force: true });
}

function jsonOf(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}
