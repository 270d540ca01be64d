import { randomFillSync } from 'node:crypto';
import { closeSync, fsyncSync, openSync, rmSync } from 'node:fs';
import { errorText } from '@mellow/core';
import { writeFully } from './durable';

/** Room on a drive that nobody else can take. */
export interface HeldRoom {
  held(): boolean;
  /** Makes the room free. @returns whether there was any */
  giveUp(): boolean;
  /** Why nothing could be kept back. */
  trouble: string | null;
}

const pieceBytes = 1 << 20;

/** Keeps room back by a file of bytes that no drive can make smaller. A file that an earlier recorder left is taken over. */
export function holdReserve(path: string, bytes: number): HeldRoom {
  let held = false;
  let trouble: string | null = null;
  const giveUp = (): boolean => {
    const was = held;
    held = false;
    rmSync(path, { force: true });
    return was;
  };
  try {
    const handle = openSync(path, 'w');
    try {
      const piece = randomFillSync(Buffer.allocUnsafe(pieceBytes));
      for (let at = 0; at < bytes; at += pieceBytes)
        writeFully(handle, piece.subarray(0, Math.min(pieceBytes, bytes - at)), at);
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    held = true;
  } catch (error) {
    trouble = errorText(error);
    giveUp();
  }
  return { held: () => held, giveUp, trouble };
}
