import { closeSync, fdatasyncSync, fsyncSync, ftruncateSync, openSync, readSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import { syncFolder, writeFully } from './durable';
import { isSameOpenFile, whatLiesAt } from './identity';
import type { Reservation } from './reserve';

/** A file of ours that is being written. */
export interface GrowingFile extends Reservation {
  /** End of what was written. */
  end(): number;
  /** Writes until done or refused. @returns how many bytes went in, and what refused the rest */
  write(position: number, bytes: Uint8Array, mostEnd: number): { done: number; error: unknown };
  /** Makes durable what was written. @returns up to where. @throws what the drive says */
  sync(): number;
  /** Everything has been written: waits until others that write for it are through. */
  finish(): void;
  /** What lies at its name: itself, nothing, or another file. */
  lies(): 'nothing' | 'same' | 'other';
  /** Its name is gone, the open file may still hold every byte: copies them. @param progress told how far it is */
  saveTo(path: string, progress: (bytes: number) => void): void;
  close(): void;
}

const pieceBytes = 1 << 20;

/**
 * Opens a reserved file and empties it: what an earlier recorder began of this very take, before anything was due, is begun
 * anew. @param flush how what was written is made durable; another one in tests
 * @throws where another file lies at the name by now; it is not touched
 */
export function openGrowingFile(
  { path, identity }: Reservation,
  flush: (handle: number) => void = fdatasyncSync,
): GrowingFile {
  const handle = openSync(path, 'r+');
  if (!isSameOpenFile(identity, handle)) {
    closeSync(handle);
    throw new Error(`Another file lies at ${path} by now. It was not touched, and nothing was recorded.`);
  }
  ftruncateSync(handle, 0);
  let end = 0;
  let dirty = false;
  return {
    path,
    identity,
    end: () => end,
    write(position, bytes, mostEnd) {
      let done = 0;
      let refused: unknown = null;
      try {
        while (done < bytes.length) {
          const room = Math.min(bytes.length - done, mostEnd - position - done);
          if (room <= 0)
            throw Object.assign(new Error('the quota of the stand-in drive is used up'), { code: 'ENOSPC' });
          done += writeSync(handle, bytes, done, room, position + done);
        }
      } catch (error) {
        refused = error;
      }
      end = Math.max(end, position + done);
      dirty ||= done > 0;
      return { done, error: refused };
    },
    sync() {
      // A container patches its head when it closes: what is rewritten before the end counts as well.
      if (dirty) flush(handle);
      dirty = false;
      return end;
    },
    finish: () => {},
    lies() {
      try {
        return whatLiesAt(path, identity);
      } catch (error) {
        const { code } = error as NodeJS.ErrnoException;
        // A drive that only answers badly for a moment is not gone; the next write decides.
        return code === 'ENOENT' || code === 'ENOTDIR' ? 'nothing' : 'same';
      }
    },
    saveTo(target, progress) {
      const copy = openSync(target, 'wx');
      const piece = Buffer.alloc(pieceBytes);
      try {
        for (let at = 0; at < end;) {
          const count = readSync(handle, piece, 0, piece.length, at);
          if (count <= 0) break;
          writeFully(copy, piece.subarray(0, count), at);
          at += count;
          progress(at);
        }
        fsyncSync(copy);
      } finally {
        closeSync(copy);
      }
    },
    close() {
      closeSync(handle);
      syncFolder(dirname(path));
    },
  };
}
