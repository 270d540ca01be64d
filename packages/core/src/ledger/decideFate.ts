import type { Cause } from '@mellow/model';

/** What is known when due n is looked at. One definition for the real clock, the driven clock and simulations. */
export interface DueObservation {
  /** The picker woke at or after due n+1. */
  wokeAfterNextDue: boolean;
  bytesWaiting: number;
  waitingLimitBytes: number;
  sinceLastWriteUs: number;
  /** How long the oldest packet has waited that is not with the drive, and for whom; 0 where nobody is behind. */
  unwritten: { us: number; waitsFor: 'pack' | 'drive' };
  room: 'yes' | 'encode-queue-full' | 'size-busy' | 'pool-empty';
  grab: 'ok' | 'failed' | 'unfinished';
  /** Number of the newest source frame, null before the first. */
  newestFrame: number | null;
  lastFiledFrame: number | null;
}

export type FateDecision =
  { fate: 'new' } | { fate: 'repeat' } | { fate: 'capture-miss' | 'encode-miss' | 'write-miss'; cause: Cause };

/** No write for so long means that the drive stands still, not that it is slow. */
export const driveStalledUs = 500_000;

/**
 * Longest that an encoded packet waits in memory before frames are refused. With the half second that a container collects, and the
 * pictures inside the encoder, it is all that a recorder that dies takes along (`secondsLostIfKilled`).
 */
export const mostUnwrittenUs = 1_900_000;

/** Fate of a due frame, rules 1 to 7 of the table in docs/model.md; the first match wins. */
export function decideFate(seen: DueObservation): FateDecision {
  if (seen.wokeAfterNextDue) return { fate: 'capture-miss', cause: 'picker-late' };
  const late = seen.unwritten.us > mostUnwrittenUs;
  if (late && seen.unwritten.waitsFor === 'pack') return { fate: 'write-miss', cause: 'pack-late' };
  if (late || seen.bytesWaiting > seen.waitingLimitBytes) {
    return { fate: 'write-miss', cause: seen.sinceLastWriteUs >= driveStalledUs ? 'drive-stalled' : 'drive-slow' };
  }
  if (seen.room === 'encode-queue-full') return { fate: 'encode-miss', cause: 'queue-full' };
  if (seen.room === 'size-busy') return { fate: 'capture-miss', cause: 'size-late' };
  if (seen.room === 'pool-empty') return { fate: 'capture-miss', cause: 'pool-empty' };
  if (seen.newestFrame === null || seen.grab === 'failed') return { fate: 'capture-miss', cause: 'no-source' };
  if (seen.grab === 'unfinished') return { fate: 'capture-miss', cause: 'grab-late' };
  if (seen.lastFiledFrame !== null && seen.newestFrame <= seen.lastFiledFrame) return { fate: 'repeat' };
  return { fate: 'new' };
}

export interface RepeatObservation {
  dueUs: number;
  periodUs: number;
  /** When the repeated source frame was presented. */
  previousPresentUs: number;
  /** When the next one was presented; null if none came before the end. */
  nextPresentUs: number | null;
  /** End of the take, used where no next frame came. */
  endUs: number;
  reportsOnlyChanges: boolean;
}

/** A gap of the source from which on the game counts as stalled. */
export const stallUs = 250_000;

/** Why nothing newer was there (rule 6). */
export function repeatCause(seen: RepeatObservation): Cause {
  const gapUs = (seen.nextPresentUs ?? seen.endUs) - seen.previousPresentUs;
  if (
    seen.nextPresentUs !== null &&
    seen.nextPresentUs - seen.dueUs <= seen.periodUs / 2 &&
    gapUs <= 1.25 * seen.periodUs
  ) {
    return 'phase';
  }
  if (gapUs >= stallUs) return 'stalled';
  if (seen.reportsOnlyChanges) return 'still';
  return 'slow';
}
