import { closeSync, existsSync, fdatasyncSync, openSync, readFileSync, rmSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileIdentitySchema } from '@mellow/model';
import { z } from 'zod';
import { syncFolder, writeFully } from './durable';
import { giveBack, removeOwn, reserveFile, type Reservation } from './reserve';

/**
 * What a sequence of steps on files has done so far, and is about to do. It is on the drive before the step it names begins, so that
 * whoever comes after an end that nobody foresaw knows what lies where, and to whom it belongs.
 */
const stepSchema = z.discriminatedUnion('step', [
  /** A file under a name of the sequence's own is about to be made: it is nothing before it is whole. */
  z.object({ step: z.literal('temporary'), path: z.string() }),
  /** A name where nothing lies is about to be kept free by an empty file. */
  z.object({ step: z.literal('reserving'), path: z.string(), atMs: z.number() }),
  /** An empty file that keeps a name free. */
  z.object({ step: z.literal('reserved'), path: z.string(), identity: fileIdentitySchema }),
  /** A finished file, read back and compared, is about to take a place: whatever has this identity there is whole. */
  z.object({ step: z.literal('proven'), path: z.string(), identity: fileIdentitySchema }),
  /** A finished file whose source stays takes a place: unless somebody has stored that it is theirs, it can be made again. */
  z.object({ step: z.literal('remade'), path: z.string(), identity: fileIdentitySchema }),
  /** All of a take, or what of it lies in the discards, is about to be removed: it is wanted, so it is gone on with. */
  z.object({ step: z.literal('removing'), takeId: z.string() }),
  z.object({ step: z.literal('emptying'), takeId: z.string() }),
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

/** Takes a name for a new file, so that it is given back whatever happens before somebody has stored that it is theirs. */
export function reserveNoted(wanted: string, journal: Journal): Reservation {
  const reserved = reserveFile(wanted, (path) => journal({ step: 'reserving', path, atMs: Date.now() }));
  journal({ step: 'reserved', ...reserved });
  return reserved;
}

/** Identity of the finished file that was about to take a place; null where it did not come to that. */
export const provenAt = (steps: readonly JournalStep[], path: string): Reservation['identity'] | null =>
  steps.reduce<Reservation['identity'] | null>(
    (found, step) => (step.step === 'proven' && step.path === path ? step.identity : found),
    null,
  );

/** Times of birth are kept to the second on some drives. */
const coarsestBirthMs = 2000;

/** A name that was about to be taken: an empty file that was born since then keeps it for nobody. */
function giveBackSince(path: string, atMs: number): void {
  const stats = statSync(path, { throwIfNoEntry: false });
  if (stats?.isFile() && stats.size === 0 && stats.birthtimeMs >= atMs - coarsestBirthMs) rmSync(path);
}

/**
 * Undoes what a sequence left that did not come to its end: files under names of its own go, names that are still kept free by its
 * empty files, and what can be made again. Then the journal goes.
 * @param isStored whether somebody has it in writing that the file at a path is theirs
 */
export function undoJournal(path: string, isStored: (path: string) => boolean = () => false): void {
  for (const step of journalSteps(path)) {
    if (step.step === 'temporary') rmSync(step.path, { force: true });
    if (!('path' in step) || isStored(step.path)) continue;
    if (step.step === 'reserving') giveBackSince(step.path, step.atMs);
    if (step.step === 'reserved') giveBack(step);
    if (step.step === 'remade') removeOwn(step);
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
