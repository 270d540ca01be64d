import type { Control } from '../shared/control';
import type { SampleLog } from '../shared/sampleLog';
import type { SlotPool } from '../shared/slotPool';

/** What a source presents its frames by. */
export interface Presenting {
  pool: SlotPool;
  presents: SampleLog;
  control: Control;
}

/** A written slot becomes the newest frame; the one before goes back to the pool, unless somebody holds it. */
export function presentFrame(
  { pool, presents, control }: Presenting,
  slot: number,
  frameNumber: number,
  presentUs: number,
): void {
  pool.publish(slot, frameNumber, presents.count(), presentUs);
  presents.add(presentUs);
  const before = control.exchange('latestSlot', slot + 1);
  if (before > 0) pool.discard(before - 1);
}

/** Nothing is presented any more. */
export function endPresenting({ pool, control }: Presenting): void {
  const left = control.exchange('latestSlot', 0);
  if (left > 0) pool.discard(left - 1);
}
