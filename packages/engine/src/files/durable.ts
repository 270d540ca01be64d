import { closeSync, fsyncSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { dirname, extname } from 'node:path';

let serial = 0;

/** A name beside a file that nobody else uses: of this process, counted. Its ending stays that of the file. */
export function temporaryBeside(path: string): string {
  const suffix = extname(path);
  return `${path.slice(0, path.length - suffix.length)}.part-${process.pid}-${++serial}${suffix}`;
}

/** Flushes a folder's list of names to the device, where the system can (Windows cannot, and does so by itself). */
export function syncFolder(folder: string): void {
  try {
    const handle = openSync(folder, 'r');
    try {
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
  } catch {
    // A system without it keeps names by its own rules.
  }
}

/** Flushes a finished file to the device. */
export function syncFile(path: string): void {
  const handle = openSync(path, 'r+');
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}

/** Writes all bytes, however often the system takes only a part. */
export function writeFully(handle: number, bytes: Uint8Array, position: number | null): void {
  for (let done = 0; done < bytes.length;)
    done += writeSync(handle, bytes, done, bytes.length - done, position === null ? null : position + done);
}

/**
 * Writes a file under a temporary name, flushes it, gives it its name and flushes the folder: it is whole or not there.
 * @param mode who may read it, from its first moment on
 */
export function writeDurably(path: string, content: string | Uint8Array, mode = 0o666): void {
  const temporary = temporaryBeside(path);
  const handle = openSync(temporary, 'wx', mode);
  try {
    try {
      writeFully(handle, typeof content === 'string' ? Buffer.from(content, 'utf8') : content, null);
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    renameSync(temporary, path);
    syncFolder(dirname(path));
  } catch (error) {
    rmSync(temporary, { force: true });
    throw error;
  }
}
