import { existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { nanoid } from 'nanoid';
import { journalSteps, openJournal, undoJournal, type Journal, type JournalStep } from '@mellow/engine';

/** What one sequence of steps on files has done so far. */
export interface FileJournal {
  path: string;
  note: Journal;
  steps(): JournalStep[];
  /** What it did is stored: nobody has to look after it any more. */
  done(): void;
  /** It did not come to its end, and nothing of it is stored. */
  undo(): void;
}

export interface Journals {
  open(): FileJournal;
  /** What work does with files is noted until it has stored whose they are; where it throws, it is undone. */
  storing<T>(work: (note: Journal) => Promise<T>): Promise<T>;
  /** Those that an earlier run of the server left. */
  left(): LeftJournals;
}

export interface LeftJournals {
  steps: readonly JournalStep[];
  /**
   * What lies on a drive that is away can be neither undone nor known: such a journal waits for a start at which it is there.
   * @param isStored whether a take has the file at a path
   */
  undo(isStored: (path: string) => boolean): void;
}

const suffix = '.ndjson';

/** All that a journal names lies in folders that are there. */
const isWithinReach = (journal: string): boolean =>
  journalSteps(journal).every((step) => !('path' in step) || existsSync(dirname(step.path)));

/** Journals of all work on files, in a folder of their own. */
export function createJournals(folder: string): Journals {
  mkdirSync(folder, { recursive: true });
  function open(): FileJournal {
    const path = join(folder, `${nanoid(12)}${suffix}`);
    return {
      path,
      note: openJournal(path),
      steps: () => journalSteps(path),
      done: () => rmSync(path, { force: true }),
      undo: () => undoJournal(path),
    };
  }
  return {
    open,
    async storing(work) {
      const journal = open();
      try {
        const stored = await work(journal.note);
        journal.done();
        return stored;
      } catch (error) {
        journal.undo();
        throw error;
      }
    },
    left() {
      const paths = readdirSync(folder)
        .filter((name) => name.endsWith(suffix))
        .map((name) => join(folder, name));
      return {
        steps: paths.flatMap(journalSteps),
        undo: (isStored) => paths.filter(isWithinReach).forEach((path) => undoJournal(path, isStored)),
      };
    },
  };
}
