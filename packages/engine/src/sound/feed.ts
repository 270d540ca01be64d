import type { SoundFormat } from '@mellow/core';

/** Something that brings a sound from outside, until it is stopped. */
export interface SoundFeed {
  stop(): void;
}

/** What a feed tells. */
export interface FeedListener {
  begins(format: SoundFormat): void;
  /** Interleaved samples, the last of which had been taken by then (monotonic clock). */
  samples(samples: Float32Array, arrivalUs: number): void;
  /** It brings nothing any more, and why. */
  ended(why: string): void;
}
