import type { Control } from '../shared/control';
import type { SampleLog } from '../shared/sampleLog';
import type { SlotPool } from '../shared/slotPool';

/** A frame of the source that is held and cannot be written over. */
export interface HeldFrame {
  slot: number;
  /** Number of the source's frame. */
  frame: number;
  /** Which presentation it was, counted from 0. */
  serial: number;
  presentUs: number;
}

/** Frames as a source on the real clock brings them, each with its own time. */
export interface FrameFeed {
  /** Number of the newest frame, null before the first. */
  newestFrame(): number | null;
  /** The newest frame, held; null where there is none. */
  hold(): HeldFrame | null;
  /** Frames presented so far. */
  presented(): number;
  /** When presentation `serial` was, on the monotonic clock; only for the last few thousand. */
  presentUs(serial: number): number;
}

export function openFrameFeed(pool: SlotPool, presents: SampleLog, control: Control): FrameFeed {
  const latest = () => control.get('latestSlot') - 1;
  return {
    newestFrame() {
      const slot = latest();
      return slot < 0 ? null : pool.frameNumber(slot);
    },
    hold() {
      // The source may free the slot in between; then a newer one is there.
      for (let tries = 0; tries < 1000; tries++) {
        const slot = latest();
        if (slot < 0) return null;
        if (!pool.hold(slot)) continue;
        return {
          slot,
          frame: pool.frameNumber(slot),
          serial: pool.presentSerial(slot),
          presentUs: pool.presentUs(slot),
        };
      }
      return null;
    },
    presented: presents.count,
    presentUs: presents.at,
  };
}
