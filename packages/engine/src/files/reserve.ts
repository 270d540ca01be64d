import { closeSync, existsSync, mkdirSync, openSync, renameSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import type { FileIdentity } from '@mellow/model';
import { identityOfNew, whatLiesAt } from './identity';
import { syncFolder } from './durable';

export interface Reservation {
  path: string;
  identity: FileIdentity;
}

const mostTries = 9999;

/**
 * Takes a name for a new file: the file is made empty, exclusively. A name that is taken, by whomever, gets a number:
 * "run.mkv", "run 2.mkv", "run 3.mkv". Missing folders are made.
 * @param before told of each name where nothing lies, before it is taken
 */
export function reserveFile(wanted: string, before: (path: string) => void = () => {}): Reservation {
  mkdirSync(dirname(wanted), { recursive: true });
  const suffix = extname(wanted);
  const stem = join(dirname(wanted), basename(wanted, suffix));
  for (let count = 1; count <= mostTries; count++) {
    const path = count === 1 ? wanted : `${stem} ${count}${suffix}`;
    if (existsSync(path)) continue;
    before(path);
    try {
      const handle = openSync(path, 'wx');
      try {
        return { path, identity: identityOfNew(handle) };
      } finally {
        closeSync(handle);
      }
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }
  throw new Error(`Every name like ${basename(wanted)} is taken in ${dirname(wanted)}.`);
}

/** Gives an empty reservation back; a file that is another one by now, or has something in it, stays. */
export function giveBack({ path, identity }: Reservation): void {
  if (whatLiesAt(path, identity) === 'same' && statSync(path).size === 0) rmSync(path, { force: true });
}

/** Removes a file of ours whatever is in it; a file that is another one by now stays. */
export function removeOwn({ path, identity }: Reservation): void {
  if (whatLiesAt(path, identity) === 'same') rmSync(path, { force: true });
}

/**
 * Puts a finished file in the place of one that is ours: a reservation, or an earlier state of the same file.
 * @param orNothing it may be gone meanwhile; where it keeps somebody from taking the place, it may not
 * @throws where something else lies there by now; the finished file then stays under its temporary name
 */
export function replaceOwn(finished: string, own: Reservation, orNothing = true): void {
  const lies = whatLiesAt(own.path, own.identity);
  if (lies === 'nothing' && !orNothing)
    throw new Error(`What was to be replaced at ${own.path} is gone; nothing was put there.`);
  if (lies === 'other') throw new Error(`Another file lies at ${own.path} by now; it was not touched.`);
  renameSync(finished, own.path);
  syncFolder(dirname(own.path));
}
