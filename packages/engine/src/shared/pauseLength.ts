import { dueUs, periodUs } from '@mellow/core';
import type { FrameRate } from '@mellow/model';

/** After a pause the first due lies so far ahead at least. */
export const leastAheadUs = 5000;

/**
 * How much later the file goes on after a pause before `due`: whole periods, so that dues stay where they would have been and whatever
 * keeps to them keeps on; the due lies ahead of now, whether the pause began before the time it would have been at or after it.
 * @param dueAtUs when it would have been due, monotonic clock
 */
export function pauseLengthUs(rate: FrameRate, due: number, dueAtUs: number, sinceUs: number, nowUs: number): number {
  const lastedUs = nowUs - Math.min(sinceUs, dueAtUs);
  const periods = Math.ceil((lastedUs + leastAheadUs) / periodUs(rate));
  return dueUs(rate, due + periods) - dueUs(rate, due);
}
