import { createRingMemory, type RingMemory } from './messageRing';

/** What the writer of one stripe tells of itself; the dispatcher reads. */
const figures = [
  /** Bytes in its file, and how many of them are durable. */
  'end',
  'durable',
  /** What the drive refused bytes with; 0: nothing. */
  'errno',
  /** Spent in writing and flushing, microseconds in all, and the longest call since it was last asked. */
  'busyUs',
  'worstUs',
  /** Free for it; -1 where nobody knows. */
  'leftBytes',
  'reserveHeld',
  /** Its file is not at its name any more. */
  'gone',
  /** Its file is closed. */
  'closed',
] as const;
type StripeFigure = (typeof figures)[number];

export interface StripeMemory {
  ring: RingMemory;
  figures: SharedArrayBuffer;
}

/** What waits for one drive; what waits for all is in the queue before. */
const ringBytes = 8e6;

export const createStripeMemory = (): StripeMemory => ({
  ring: createRingMemory(ringBytes),
  figures: new SharedArrayBuffer(8 * figures.length),
});

export interface StripeFigures {
  get(name: StripeFigure): number;
  set(name: StripeFigure, value: number): void;
}

export function openStripeFigures(memory: StripeMemory): StripeFigures {
  const values = new Float64Array(memory.figures);
  return {
    get: (name) => values[figures.indexOf(name)] ?? 0,
    set: (name, value) => void (values[figures.indexOf(name)] = value),
  };
}
