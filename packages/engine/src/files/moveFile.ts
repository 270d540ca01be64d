import { createHash } from 'node:crypto';
import { closeSync, fsyncSync, openSync, readSync, renameSync, rmSync, statSync, utimesSync } from 'node:fs';
import { dirname } from 'node:path';
import type { FileIdentity } from '@mellow/model';
import { syncFolder, temporaryBeside, writeFully } from './durable';
import { identityOfPath, whatLiesAt } from './identity';
import { noJournal, type Journal } from './journal';
import { giveBack, replaceOwn, type Reservation } from './reserve';

const pieceBytes = 4 << 20;

/**
 * Moves a file of ours. On one file system it gets another name; between two it is copied, flushed, read back and compared, and
 * only then the first goes.
 * @param identity null where none is known; then whatever lies there is meant
 * @param target a name that was reserved for it; it is given back where nothing was moved
 * @param journal told of each step before it is done
 * @param rename how a file gets another name; another one in tests
 * @throws in words; the file is where it was then
 */
export function moveFile(
  from: string,
  identity: FileIdentity | null,
  target: Reservation,
  progress: (done: number, of: number) => void,
  journal: Journal = noJournal,
  rename: typeof renameSync = renameSync,
): Reservation {
  try {
    if (identity && whatLiesAt(from, identity) !== 'same')
      throw new Error(`Another file lies at ${from} by now, or none.`);
    if (whatLiesAt(target.path, target.identity) !== 'same')
      throw new Error(`Another file lies at ${target.path} by now.`);
    rename(from, target.path);
    syncFolder(dirname(target.path));
    return { path: target.path, identity: identity ?? identityOfPath(target.path) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EXDEV') return copied(from, identity, target, progress, journal);
    giveBack(target);
    throw error;
  }
}

function copied(
  from: string,
  known: FileIdentity | null,
  target: Reservation,
  progress: (done: number, of: number) => void,
  journal: Journal,
): Reservation {
  const temporary = temporaryBeside(target.path);
  const source = known ?? identityOfPath(from);
  const { size: bytes, atimeMs, mtimeMs } = statSync(from);
  try {
    journal({ step: 'temporary', path: temporary });
    const written = eachPiece(from, (pieces) => {
      const to = openSync(temporary, 'wx');
      try {
        const hash = createHash('sha256');
        for (const { piece, end } of pieces) {
          hash.update(piece);
          writeFully(to, piece, end - piece.length);
          progress(end, 2 * bytes);
        }
        fsyncSync(to);
        return hash.digest('hex');
      } finally {
        closeSync(to);
      }
    });
    const found = eachPiece(temporary, (pieces) => {
      const hash = createHash('sha256');
      for (const { piece, end } of pieces) {
        hash.update(piece);
        progress(bytes + end, 2 * bytes);
      }
      return hash.digest('hex');
    });
    if (written !== found) throw new Error(`The copy at ${target.path} is not what was read; it was put aside.`);
    // People sort footage by its date.
    utimesSync(temporary, atimeMs / 1000, mtimeMs / 1000);
    const identity = identityOfPath(temporary);
    journal({ step: 'proven', path: target.path, identity });
    replaceOwn(temporary, target, false);
    // What was put in its place meanwhile is somebody else's.
    if (whatLiesAt(from, source) === 'same') rmSync(from);
    return { path: target.path, identity };
  } catch (error) {
    rmSync(temporary, { force: true });
    giveBack(target);
    throw error;
  }
}

function eachPiece<T>(path: string, work: (pieces: Iterable<{ piece: Uint8Array; end: number }>) => T): T {
  const handle = openSync(path, 'r');
  try {
    return work(piecesOf(handle));
  } finally {
    closeSync(handle);
  }
}

function* piecesOf(handle: number): Generator<{ piece: Uint8Array; end: number }> {
  const buffer = Buffer.allocUnsafe(pieceBytes);
  for (let at = 0; ;) {
    const count = readSync(handle, buffer, 0, buffer.length, at);
    if (count <= 0) return;
    at += count;
    yield { piece: buffer.subarray(0, count), end: at };
  }
}
