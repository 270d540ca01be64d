import { pictureOver, type Picture420 } from '@mellow/practice';
import { planesOver, type PixelLayout } from '../native/pixelLayout';

/**
 * Pictures in shared memory. A slot is free, being written, ready, or held by `state - ready` holders;
 * every change is a compare-and-swap, so nobody writes into a picture that somebody reads.
 */
const FREE = 0;
const WRITING = 1;
const READY = 2;

export interface SlotPoolMemory {
  states: SharedArrayBuffer;
  numbers: SharedArrayBuffer;
  times: SharedArrayBuffer;
  pixels: SharedArrayBuffer;
  /** Where the first slot begins in them. */
  startBytes: number;
  slots: number;
  layout: PixelLayout;
}

/** The scaler may read a few bytes past the last line. */
const slackBytes = 4096;

export const slotPoolBytes = (slots: number, layout: PixelLayout): number => slots * layout.bytes + slackBytes;

/** @param within memory that others have a part of as well, and where the pool's begins in it */
export function createSlotPoolMemory(
  slots: number,
  layout: PixelLayout,
  within?: { pixels: SharedArrayBuffer; startBytes: number },
): SlotPoolMemory {
  return {
    states: new SharedArrayBuffer(slots * 4),
    numbers: new SharedArrayBuffer(slots * 8),
    times: new SharedArrayBuffer(slots * 8),
    pixels: within?.pixels ?? new SharedArrayBuffer(slotPoolBytes(slots, layout)),
    startBytes: within?.startBytes ?? 0,
    slots,
    layout,
  };
}

export interface SlotPool {
  /** A free slot, now being written; -1 if there is none. */
  claim(): number;
  /** The planes of a slot, in the pool's layout. */
  planes(slot: number): Buffer[];
  /** A slot as the practice game draws it; only for pools of unpadded 4:2:0. */
  picture(slot: number): Picture420;
  /** A written slot becomes ready under a frame number and a time of presentation. */
  publish(slot: number, frameNumber: number, presentSerial: number, presentUs: number): void;
  /** Ready to held by one; false if it is no longer ready. */
  hold(slot: number): boolean;
  /** A written slot is handed on directly, held by one. */
  publishHeld(slot: number): void;
  addHolder(slot: number): void;
  release(slot: number): void;
  /** Ready to free, if nobody holds it. */
  discard(slot: number): boolean;
  frameNumber(slot: number): number;
  presentSerial(slot: number): number;
  presentUs(slot: number): number;
}

export function openSlotPool(memory: SlotPoolMemory): SlotPool {
  const states = new Int32Array(memory.states);
  const numbers = new Int32Array(memory.numbers);
  const times = new Float64Array(memory.times);
  const { layout } = memory;
  const planes = Array.from({ length: memory.slots }, (_, slot) =>
    planesOver(memory.pixels, memory.startBytes + slot * layout.bytes, layout),
  );
  let next = 0;
  return {
    claim() {
      for (let i = 0; i < memory.slots; i++) {
        const slot = (next + i) % memory.slots;
        if (Atomics.compareExchange(states, slot, FREE, WRITING) === FREE) {
          next = slot + 1;
          return slot;
        }
      }
      return -1;
    },
    planes(slot) {
      const found = planes[slot];
      if (!found) throw new RangeError(`slot ${slot} of ${memory.slots}`);
      return found;
    },
    picture: (slot) =>
      pictureOver(memory.pixels, memory.startBytes + slot * layout.bytes, layout.widthPx, layout.heightPx),
    publish(slot, frameNumber, presentSerial, presentUs) {
      numbers[slot * 2] = frameNumber;
      numbers[slot * 2 + 1] = presentSerial;
      times[slot] = presentUs;
      Atomics.store(states, slot, READY);
    },
    hold: (slot) => Atomics.compareExchange(states, slot, READY, READY + 1) === READY,
    publishHeld: (slot) => void Atomics.store(states, slot, READY + 1),
    addHolder: (slot) => void Atomics.add(states, slot, 1),
    release(slot) {
      for (;;) {
        const state = Atomics.load(states, slot);
        const after = state <= READY + 1 ? FREE : state - 1;
        if (Atomics.compareExchange(states, slot, state, after) === state) return;
      }
    },
    discard: (slot) => Atomics.compareExchange(states, slot, READY, FREE) === READY,
    frameNumber: (slot) => numbers[slot * 2] ?? 0,
    presentSerial: (slot) => numbers[slot * 2 + 1] ?? 0,
    presentUs: (slot) => times[slot] ?? 0,
  };
}
