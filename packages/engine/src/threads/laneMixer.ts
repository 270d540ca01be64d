import {
  amplitudeOf,
  createLoudnessMeter,
  errorText,
  leadInMarkAt,
  leadInQuietUs,
  peakOf,
  soundChannels,
} from '@mellow/core';
import type { Lane, LeadIn, SoundInput, SoundSource } from '@mellow/model';
import type { Packet } from 'node-av/lib';
import type { LaneEncoder } from '../sound/laneEncoder';
import type { SoundFigures } from '../shared/soundFigures';
import {
  openSoundRingReader,
  soundBlockSamples,
  soundBlockUs as blockUs,
  type SoundRingMemory,
  type SoundRingReader,
} from '../shared/soundRing';

/** A source that is so late is filled with silence, so that no lane ever stops; one from outside does that itself before. */
const latestUs = { practice: 100_000, outside: 1_300_000 };
/** One that has let a block be missed is waited for no longer than this until it is there again: who hangs delays nobody. */
const silentLatestUs = 100_000;
/** A lane whose encoder has failed gets another one so often. */
const reopenEveryBlocks = 100;
/** Loudness of a lane is told so often. */
const loudnessEveryBlocks = 20;

export interface MixedLane {
  lane: Lane;
  /** Another one takes its place where it fails. */
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
  /** Whoever brings sounds of this kind is gone: nothing is waited for. */
  lost: (from: SoundInput['from']['kind']) => boolean;
  write: (lane: number, packet: Packet) => void;
  /** Told before each block of each lane is encoded: tests let an encoder fail here. */
  encoding?: (atUs: number) => void;
  /** Opens another encoder for a lane, from a sample on. @throws where it cannot be had */
  reopened: (lane: number, fromSample: number) => LaneEncoder;
  /** A lane cannot be encoded, and why; null: it can be again. */
  laneAway: (lane: number, why: string | null) => void;
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
  /** It did not answer in time the last time. */
  silent: boolean;
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
    sounds.set(input.id, { at, input, reader, gain: gainOf(input, at), block, missing: false, silent: false });
  });
  const silence = new Float32Array(values);
  const silenceSamples = lanes.map(() => 0);
  const meters = lanes.map(createLoudnessMeter);
  let block = 0;
  /** The block from which on a lane could not be encoded; null: it can be. */
  const away: (number | null)[] = lanes.map(() => null);

  function gainOf({ gainDb, opening }: SoundInput, at: number): number {
    return opening === 'held' && figures.get(at, 'held') === 0 ? 0 : amplitudeOf(gainDb);
  }

  /** A sound's block, or null where it does not come in time. */
  function arrived(sound: MixedSound): Float32Array | null {
    const { reader, input } = sound;
    const patienceUs = input.from.kind === 'practice' ? latestUs.practice : latestUs.outside;
    const latest = sound.silent ? Math.min(silentLatestUs, patienceUs) : patienceUs;
    for (;;) {
      const samples = reader.block(block);
      sound.silent &&= samples === null;
      if (samples) return samples;
      if (options.failed() || options.lost(input.from.kind)) return null;
      const lateUs = options.lateUs(block);
      if (lateUs !== null && lateUs > latest) {
        sound.silent = true;
        return null;
      }
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

  /** One lane that cannot be encoded is silent; the others and the picture go on. @returns whether it was encoded */
  function encode(i: number, work: (encoder: LaneEncoder) => void): boolean {
    const lane = lanes[i];
    if (!lane) return false;
    const awaySince = away[i] ?? null;
    if (awaySince !== null && (block - awaySince) % reopenEveryBlocks !== 0) return false;
    try {
      if (awaySince !== null) {
        const again = options.reopened(i, block * soundBlockSamples);
        lane.encoder.free();
        lane.encoder = again;
      }
      options.encoding?.(block * blockUs);
      work(lane.encoder);
    } catch (error) {
      away[i] ??= block;
      if (awaySince === null) options.laneAway(i, errorText(error));
      return false;
    }
    if (awaySince !== null) options.laneAway(i, null);
    away[i] = null;
    return true;
  }

  function mixBlock(samples: number): void {
    for (const sound of sounds.values()) take(sound);
    lanes.forEach(({ lane }, i) => {
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
      if (!encode(i, (encoder) => encoder.add(mix, (packet) => write(i, packet))) && !missing)
        silenceSamples[i] = (silenceSamples[i] ?? 0) + samples;
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
      lanes.forEach((_, i) => away[i] === null && encode(i, (encoder) => encoder.flush((packet) => write(i, packet))));
    },
    silenceSamples: () => silenceSamples,
  };
}
