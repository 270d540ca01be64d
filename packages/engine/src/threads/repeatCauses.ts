import { repeatCause, stallUs } from '@mellow/core';
import type { Cause } from '@mellow/model';

interface PendingRepeat {
  n: number;
  /** When due n was, and when the repeated frame was presented, on one clock. */
  dueUs: number;
  presentUs: number;
  serial: number;
}

export interface RepeatCauses {
  add(repeat: PendingRepeat): void;
  /** Gives causes to all repeats that can be told apart by now. @param nextPresentUs presentation after a serial, null while there is none */
  resolve(nowUs: number, nextPresentUs: (serial: number) => number | null): void;
  /** At the end nothing more will come. */
  finish(endUs: number): void;
}

/**
 * Waits for the frame after a repeated one, which tells why nothing newer was there. Never for long: a quarter of a
 * second without a frame is a stall whatever comes, so that no row of the ledger waits for a picture that stands still.
 */
export function createRepeatCauses(
  periodUs: number,
  reportsOnlyChanges: boolean,
  give: (n: number, cause: Cause) => void,
): RepeatCauses {
  let pending: PendingRepeat[] = [];
  const causeOf = (repeat: PendingRepeat, nextPresentUs: number | null, endUs: number): Cause =>
    repeatCause({
      dueUs: repeat.dueUs,
      periodUs,
      previousPresentUs: repeat.presentUs,
      nextPresentUs,
      endUs,
      reportsOnlyChanges,
    });
  return {
    add: (repeat) => void pending.push(repeat),
    resolve(nowUs, nextPresentUs) {
      pending = pending.filter((repeat) => {
        const next = nextPresentUs(repeat.serial);
        const certain = nowUs - repeat.presentUs >= stallUs && nowUs - repeat.dueUs > periodUs / 2;
        if (next === null && !certain) return true;
        give(repeat.n, causeOf(repeat, next, nowUs));
        return false;
      });
    },
    finish(endUs) {
      for (const repeat of pending.splice(0)) give(repeat.n, causeOf(repeat, null, endUs));
    },
  };
}
