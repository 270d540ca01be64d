import { soundChannels } from '@mellow/core';
import type { Lane, SoundSource } from '@mellow/model';
import type { Packet } from 'node-av/lib';
import type { LaneEncoder } from '../media/laneEncoder';
import { nowUs } from '../shared/monotonic';
import {
  openSoundRingReader,
  soundBlockSamples,
  type SoundRingMemory,
  type SoundRingReader,
} from '../shared/soundRing';

/** A source that is so late is filled with silence, so that no lane ever stops. */
const latestUs = 100_000;
const blockUs = 10_000;

export interface MixedLane {
  lane: Lane;
  encoder: LaneEncoder;
}

export interface LaneMixer {
  /** Mixes, meters and encodes all lanes up to a time after due 0, in blocks of 10 ms. */
  mixUntil(untilUs: number): void;
  /** The last piece, which may be shorter than a block. */
  finishAt(endUs: number): void;
  /** Samples of each lane that had to be filled with silence. */
  silenceSamples(): number[];
}

export interface LaneMixerOptions {
  lanes: readonly MixedLane[];
  sounds: Partial<Record<SoundSource, SoundRingMemory>>;
  /** Highest value of each lane since it was last read, 0 to 1. */
  peaks: Float64Array;
  /** Monotonic time of due 0 on the real clock; null on the driven one, where every source is waited for. */
  dueZeroUs: () => number | null;
  /** The take has failed elsewhere: nothing is waited for any more. */
  failed: () => boolean;
  write: (lane: number, packet: Packet) => void;
}

/** Joins the sources of each lane as they arrive. */
export function createLaneMixer(options: LaneMixerOptions): LaneMixer {
  const { lanes, peaks, write } = options;
  const readers = new Map<SoundSource, SoundRingReader>();
  for (const source of new Set(lanes.flatMap(({ lane }) => lane.sources))) {
    const ring = options.sounds[source];
    if (ring) readers.set(source, openSoundRingReader(ring));
  }
  const silence = new Float32Array(soundBlockSamples * soundChannels);
  const silenceSamples = lanes.map(() => 0);
  let block = 0;

  /** A source's block, or silence where it does not come in time. */
  function blockOf(reader: SoundRingReader): Float32Array {
    for (;;) {
      const samples = reader.block(block);
      if (samples) return samples;
      if (options.failed()) return silence;
      const dueZeroUs = options.dueZeroUs();
      if (dueZeroUs !== null && nowUs() - (dueZeroUs + (block + 1) * blockUs) > latestUs) return silence;
      reader.wait(20_000);
    }
  }

  function mixBlock(samples: number): void {
    const given = new Map([...readers].map(([source, reader]) => [source, blockOf(reader)]));
    lanes.forEach(({ lane, encoder }, i) => {
      const mix = new Float32Array(samples * soundChannels);
      let missing = false;
      for (const source of lane.sources) {
        const values = given.get(source) ?? silence;
        missing ||= values === silence;
        for (let at = 0; at < mix.length; at++) mix[at] = (mix[at] ?? 0) + (values[at] ?? 0);
      }
      if (missing) silenceSamples[i] = (silenceSamples[i] ?? 0) + samples;
      let peak = 0;
      for (const value of mix) peak = Math.max(peak, Math.abs(value));
      peaks[i] = Math.max(peaks[i] ?? 0, peak);
      encoder.add(mix, (packet) => write(i, packet));
    });
    block++;
    for (const reader of readers.values()) reader.doneBefore(block);
  }

  const mixUntil = (untilUs: number): void => {
    while (lanes.length && (block + 1) * blockUs <= untilUs) mixBlock(soundBlockSamples);
  };
  return {
    mixUntil,
    finishAt(endUs) {
      mixUntil(endUs);
      const rest = Math.round(((endUs - block * blockUs) * soundBlockSamples) / blockUs);
      if (lanes.length && rest > 0) mixBlock(Math.min(rest, soundBlockSamples));
      lanes.forEach(({ encoder }, i) => encoder.flush((packet) => write(i, packet)));
    },
    silenceSamples: () => silenceSamples,
  };
}
