import { closeSync, mkdirSync, openSync, renameSync, rmSync } from 'node:fs';
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
 */
export function reserveFile(wanted: string): Reservation {
  mkdirSync(dirname(wanted), { recursive: true });
  const suffix = extname(wanted);
  const stem = join(dirname(wanted), basename(wanted, suffix));
  for (let count = 1; count <= mostTries; count++) {
    const path = count === 1 ? wanted : `${stem} ${count}${suffix}`;
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

/** Gives an empty reservation back; a file that is another one by now stays. */
export function giveBack({ path, identity }: Reservation): void {
  if (whatLiesAt(path, identity) === 'same') rmSync(path, { force: true });
}

/**
 * Puts a finished file in the place of one that is ours: a reservation, or an earlier state of the same file.
 * @throws where something else lies there by now; the finished file then stays under its temporary name
 */
export function replaceOwn(finished: string, own: Reservation): void {
  if (whatLiesAt(own.path, own.identity) === 'other')
    throw new Error(`Another file lies at ${own.path} by now; it was not touched.`);
  renameSync(finished, own.path);
  syncFolder(dirname(own.path));
}
