import { dueUs, NEVER, type DueObservation } from '@mellow/core';
import type { FrameRate } from '@mellow/model';
import type { Control } from '../shared/control';
import { rowStates, type LedgerRing } from '../shared/ledgerRing';

export type Unwritten = DueObservation['unwritten'];

const nothing: Unwritten = { us: 0, waitsFor: 'pack' };

/**
 * Packets that have left the encoder and are not with the drive: what a recorder that dies takes along. What is inside the encoder
 * is none of them, since it lets its pictures out for others that come in; nor is what a container collects while nobody is behind.
 */
export function createUnwritten(
  rate: FrameRate,
  ledger: Pick<LedgerRing, 'state' | 'get'>,
  control: Pick<Control, 'figure'>,
): {
  accepted(n: number): void;
  /** @param fileNowUs now, on the file's clock */
  oldest(fileNowUs: number): Unwritten;
} {
  /** Accepted frames in rising order; those before `head` are with the drive, or were lost on the way. */
  let frames: number[] = [];
  let head = 0;

  /** The first whose fate is open. */
  function oldestOpen(): number | null {
    for (; head < frames.length; head++) {
      const state = ledger.state(frames[head] ?? 0);
      if (state === rowStates.accepted || state === rowStates.packed) break;
    }
    if (head > 1024) {
      frames = frames.slice(head);
      head = 0;
    }
    return frames[head] ?? null;
  }

  /** The first that Pack has not taken, where it has left the encoder. */
  function waitsForPack(): boolean {
    for (let i = head; i < frames.length; i++) {
      const n = frames[i] ?? 0;
      if (ledger.state(n) === rowStates.accepted) return ledger.get(n, 'encodeOut') !== NEVER;
    }
    return false;
  }

  return {
    accepted: (n) => void frames.push(n),
    oldest(fileNowUs) {
      const n = oldestOpen();
      if (n === null) return nothing;
      const out = ledger.get(n, 'encodeOut');
      if (out === NEVER) return nothing;
      const us = fileNowUs - dueUs(rate, n) - out;
      if (waitsForPack()) return { us, waitsFor: 'pack' };
      return control.figure('handedBytes') > control.figure('drivenBytes') ? { us, waitsFor: 'drive' } : nothing;
    },
  };
}
