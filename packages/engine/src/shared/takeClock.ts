import { cutReasons, mostCuts, type Cut, type CutReason } from '@mellow/model';
import type { Control } from './control';
import { nowUs } from './monotonic';

export type TakeClockMemory = SharedArrayBuffer;

/**
 * Which moment of the file belongs to which moment of the monotonic clock. Both run alike from due 0 on, except for pauses:
 * the file's time stands still in them (docs/model.md, "Pauses"). The picker alone writes.
 */
export interface TakeClock {
  /** Monotonic time of a moment of the file; Infinity where it comes after a pause that has not ended. */
  at(fileUs: number): number;
  /** The file's time at a monotonic time; within a pause that of the cut. */
  fileOf(atUs: number): number;
  /** The file's time now. */
  now(): number;
  cuts(): Cut[];
  /** Since when nothing is recorded; null while something is. */
  pausedSinceUs(): number | null;
  /** No more pauses can be kept. */
  full(): boolean;
  pause(fileUs: number): void;
  /** @param leftOutUs how much later the file goes on than it would have without the pause */
  resume(leftOutUs: number, why?: CutReason): void;
}

const [countAt, pausedAt] = [0, 1];
const [pausedFileAt, pausedSinceAt, cutsAt] = [0, 1, 2];
/** Time of the file, what was left out, the reason's number. */
const cutValues = 3;

export const createTakeClockMemory = (): TakeClockMemory =>
  new SharedArrayBuffer(8 + (cutsAt + mostCuts * cutValues) * 8);

export function openTakeClock(memory: TakeClockMemory, control: Control): TakeClock {
  const ints = new Int32Array(memory, 0, 2);
  const floats = new Float64Array(memory, 8);
  const count = (): number => Atomics.load(ints, countAt);
  const pausedFileUs = (): number => (Atomics.load(ints, pausedAt) ? (floats[pausedFileAt] ?? 0) : Infinity);
  const cut = (i: number): Cut => {
    const [atUs = 0, leftOutUs = 0, why = 0] = floats.subarray(cutsAt + i * cutValues, cutsAt + (i + 1) * cutValues);
    return { why: cutReasons[why] ?? 'paused', atUs, leftOutUs };
  };
  const cuts = (): Cut[] => Array.from({ length: count() }, (_, i) => cut(i));

  function fileOf(atUs: number): number {
    // Asked first: a pause that ends meanwhile is among the cuts then.
    let untilUs = pausedFileUs();
    const all = cuts();
    let sinceUs = atUs - control.figure('dueZeroUs') - all.reduce((sum, { leftOutUs }) => sum + leftOutUs, 0);
    for (const { atUs: cutUs, leftOutUs } of all.reverse()) {
      if (sinceUs >= cutUs) break;
      sinceUs += leftOutUs;
      untilUs = cutUs;
    }
    return Math.min(sinceUs, untilUs);
  }

  return {
    at(fileUs) {
      if (fileUs >= pausedFileUs()) return Infinity;
      const leftOutUs = cuts().reduce((sum, one) => sum + (one.atUs <= fileUs ? one.leftOutUs : 0), 0);
      return control.figure('dueZeroUs') + fileUs + leftOutUs;
    },
    fileOf,
    now: () => fileOf(nowUs()),
    cuts,
    pausedSinceUs: () => (Atomics.load(ints, pausedAt) ? (floats[pausedSinceAt] ?? 0) : null),
    full: () => count() >= mostCuts,
    pause(fileUs) {
      floats[pausedFileAt] = fileUs;
      floats[pausedSinceAt] = nowUs();
      Atomics.store(ints, pausedAt, 1);
    },
    resume(leftOutUs, why = 'paused') {
      const i = count();
      floats.set([floats[pausedFileAt] ?? 0, leftOutUs, cutReasons.indexOf(why)], cutsAt + i * cutValues);
      Atomics.store(ints, countAt, i + 1);
      Atomics.store(ints, pausedAt, 0);
    },
  };
}
