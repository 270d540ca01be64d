import { sampleRateHz, soundChannels } from '@mellow/core';
import type { TakeClock } from './takeClock';

/**
 * Sound of one source in shared memory: blocks of 10 ms, numbered from due 0 on, one writer and one reader. Every block
 * stands at its number, so a source that was late never shifts what comes after.
 */
export const soundBlockSamples = sampleRateHz / 100;
export const soundBlockUs = 10_000;
const blockValues = soundBlockSamples * soundChannels;
const [WRITTEN, READ] = [0, 1] as const;

export interface SoundRingMemory {
  counters: SharedArrayBuffer;
  samples: SharedArrayBuffer;
  arrivals: SharedArrayBuffer;
  blocks: number;
}

export function createSoundRingMemory(seconds: number): SoundRingMemory {
  const blocks = Math.ceil(seconds * 100);
  return {
    counters: new SharedArrayBuffer(8),
    samples: new SharedArrayBuffer(blocks * blockValues * 4),
    arrivals: new SharedArrayBuffer(blocks * 8),
    blocks,
  };
}

/** When a block begins on the monotonic clock; the one that lies across a cut belongs to the side of its greater half. */
export const blockBeginsUs = (clock: TakeClock, n: number): number =>
  clock.at((n + 0.5) * soundBlockUs) - soundBlockUs / 2;

export interface SoundRingWriter {
  /** Number of the next block: what the reader has not waited for is passed over. */
  next(): number;
  /** Writes the next block; waits for room until the time is over. @returns whether there was room */
  write(samples: Float32Array, arrivalUs: number, timeoutUs: number): boolean;
}

export interface SoundRingReader {
  /** Block `n`, null while it is not there; valid until the next call. */
  block(n: number): Float32Array | null;
  /** When block `n` arrived, on the monotonic clock. */
  arrivalUs(n: number): number;
  /** Sleeps until something was written, or the time is over. */
  wait(timeoutUs: number): void;
  /** Everything before block `n` is done with. */
  doneBefore(n: number): void;
}

export function openSoundRingWriter(memory: SoundRingMemory): SoundRingWriter {
  const counters = new Int32Array(memory.counters);
  const values = new Float32Array(memory.samples);
  const arrivals = new Float64Array(memory.arrivals);
  const next = (): number => {
    const [written, read] = [Atomics.load(counters, WRITTEN), Atomics.load(counters, READ)];
    if (written >= read) return written;
    // Nobody wants blocks that the reader has gone on without.
    Atomics.store(counters, WRITTEN, read);
    return read;
  };
  return {
    next,
    write(samples, arrivalUs, timeoutUs) {
      const n = next();
      const read = Atomics.load(counters, READ);
      if (n - read >= memory.blocks) Atomics.wait(counters, READ, read, timeoutUs / 1000);
      if (n - Atomics.load(counters, READ) >= memory.blocks) return false;
      values.set(samples, (n % memory.blocks) * blockValues);
      arrivals[n % memory.blocks] = arrivalUs;
      Atomics.store(counters, WRITTEN, n + 1);
      Atomics.notify(counters, WRITTEN);
      return true;
    },
  };
}

export function openSoundRingReader(memory: SoundRingMemory): SoundRingReader {
  const counters = new Int32Array(memory.counters);
  const values = new Float32Array(memory.samples);
  const arrivals = new Float64Array(memory.arrivals);
  return {
    block(n) {
      if (n >= Atomics.load(counters, WRITTEN)) return null;
      const at = (n % memory.blocks) * blockValues;
      return values.subarray(at, at + blockValues);
    },
    arrivalUs: (n) => arrivals[n % memory.blocks] ?? 0,
    wait(timeoutUs) {
      Atomics.wait(counters, WRITTEN, Atomics.load(counters, WRITTEN), timeoutUs / 1000);
    },
    doneBefore(n) {
      Atomics.store(counters, READ, n);
      Atomics.notify(counters, READ);
    },
  };
}
