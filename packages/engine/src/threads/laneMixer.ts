import { amplitudeOf, createLoudnessMeter, leadInMarkAt, leadInQuietUs, peakOf, soundChannels } from '@mellow/core';
import type { Lane, LeadIn, SoundInput, SoundSource } from '@mellow/model';
import type { Packet } from 'node-av/lib';
import type { LaneEncoder } from '../media/laneEncoder';
import type { SoundFigures } from '../shared/soundFigures';
import {
  openSoundRingReader,
  soundBlockSamples,
  soundBlockUs as blockUs,
  type SoundRingMemory,
  type SoundRingReader,
} from '../shared/soundRing';

/** A source that is so late is filled with silence, so that no lane ever stops; one from outside does that itself before. */
const latestUs = { practice: 100_000, outside: 3_000_000 };
/** Loudness of a lane is told so often. */
const loudnessEveryBlocks = 20;

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
  inputs: readonly SoundInput[];
  sounds: Partial<Record<SoundSource, SoundRingMemory>>;
  leadIn: LeadIn;
  /** Highest value of each lane since it was last read, 0 to 1. */
  peaks: Float64Array;
  /** Short-term loudness of each lane, not a number where it is not known. */
  loudness: Float64Array;
  figures: SoundFigures;
  /** How long ago a block ended on the real clock; null on the driven one, where every source is waited for. */
  lateUs: (block: number) => number | null;
  /** The take has failed elsewhere: nothing is waited for any more. */
  failed: () => boolean;
  write: (lane: number, packet: Packet) => void;
}

/** A sound that is kept, with what it is multiplied by. */
interface MixedSound {
  at: number;
  input: SoundInput;
  reader: SoundRingReader;
  /** What it was multiplied by at the end of the last block: changes are faded over a block, so that none clicks. */
  gain: number;
  /** Its samples of this block after the gain; the ring had none in time where `missing`. */
  block: Float32Array;
  missing: boolean;
}

/** Joins the sounds of each lane as they arrive. */
export function createLaneMixer(options: LaneMixerOptions): LaneMixer {
  const { lanes, peaks, loudness, figures, leadIn, write } = options;
  const values = soundBlockSamples * soundChannels;
  const kept = new Set(lanes.flatMap(({ lane }) => lane.sources));
  const sounds = new Map<SoundSource, MixedSound>();
  options.inputs.forEach((input, at) => {
    const ring = options.sounds[input.id];
    if (!ring || !kept.has(input.id)) return;
    const block = new Float32Array(values);
    const reader = openSoundRingReader(ring);
    sounds.set(input.id, { at, input, reader, gain: gainOf(input, at), block, missing: false });
  });
  const silence = new Float32Array(values);
  const silenceSamples = lanes.map(() => 0);
  const meters = lanes.map(createLoudnessMeter);
  let block = 0;

  function gainOf({ gainDb, opening }: SoundInput, at: number): number {
    return opening === 'held' && figures.get(at, 'held') === 0 ? 0 : amplitudeOf(gainDb);
  }

  /** A sound's block, or null where it does not come in time. */
  function arrived({ reader, input }: MixedSound): Float32Array | null {
    const latest = input.from.kind === 'practice' ? latestUs.practice : latestUs.outside;
    for (;;) {
      const samples = reader.block(block);
      if (samples) return samples;
      if (options.failed()) return null;
      const lateUs = options.lateUs(block);
      if (lateUs !== null && lateUs > latest) return null;
      reader.wait(20_000);
    }
  }

  function take(sound: MixedSound): void {
    const samples = arrived(sound);
    const gain = gainOf(sound.input, sound.at);
    const step = (gain - sound.gain) / soundBlockSamples;
    for (let i = 0; i < values; i++)
      sound.block[i] = (samples?.[i] ?? 0) * (sound.gain + step * Math.floor(i / soundChannels));
    sound.gain = gain;
    sound.missing = samples === null;
    figures.set(sound.at, 'peak', Math.max(figures.get(sound.at, 'peak'), peakOf(sound.block)));
    if (leadIn !== 'none' && block * blockUs < leadInQuietUs) {
      figures.add(sound.at, 'floorSamples', values);
      figures.add(
        sound.at,
        'floorSquares',
        sound.block.reduce((sum, value) => sum + value * value, 0),
      );
    }
  }

  function mixBlock(samples: number): void {
    for (const sound of sounds.values()) take(sound);
    lanes.forEach(({ lane, encoder }, i) => {
      const mix = new Float32Array(samples * soundChannels);
      let missing = false;
      for (const source of lane.sources) {
        const sound = sounds.get(source);
        missing ||= sound?.missing ?? false;
        const given = sound?.block ?? silence;
        for (let at = 0; at < mix.length; at++) mix[at] = (mix[at] ?? 0) + (given[at] ?? 0);
      }
      if (leadIn === 'mark')
        for (let at = 0; at < mix.length; at++)
          mix[at] = (mix[at] ?? 0) + leadInMarkAt(block * soundBlockSamples + Math.floor(at / soundChannels));
      if (missing) silenceSamples[i] = (silenceSamples[i] ?? 0) + samples;
      peaks[i] = Math.max(peaks[i] ?? 0, peakOf(mix));
      meters[i]?.add(mix);
      if (block % loudnessEveryBlocks === 0) loudness[i] = meters[i]?.shortTermLufs() ?? NaN;
      encoder.add(mix, (packet) => write(i, packet));
    });
    block++;
    for (const { reader } of sounds.values()) reader.doneBefore(block);
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
