import { leadInMarksUs } from '@mellow/core';
import type { Lane, LeadIn, SoundInput, SoundSource } from '@mellow/model';
import { createSoundFiguresMemory, openSoundFigures } from '../shared/soundFigures';
import { createSoundRingMemory, openSoundRingWriter, type SoundRingMemory } from '../shared/soundRing';
import { createLaneMixer, type LaneMixerOptions, type MixedLane } from './laneMixer';

const blockValues = 960;
const input = (id: SoundSource, change: Partial<SoundInput> = {}): SoundInput => ({
  id,
  name: id,
  from: { kind: 'practice', part: 'game' },
  gainDb: 0,
  muted: false,
  opening: 'open',
  ...change,
});

/** A lane whose encoder keeps what it is given. */
function keeping(...sources: SoundSource[]): MixedLane & { samples: number[] } {
  const lane: Lane = { name: sources.join(), sources, codec: 'pcm', bitrateKbps: 160 };
  const samples: number[] = [];
  return {
    lane,
    samples,
    encoder: {
      context: null as never,
      add: (given) => void samples.push(...given),
      flush: () => {},
      free: () => {},
    },
  };
}

interface Bench {
  lanes: readonly (MixedLane & { samples: number[] })[];
  inputs: SoundInput[];
  leadIn?: LeadIn;
  /** Blocks of each sound, each of one value. */
  blocks: Partial<Record<SoundSource, readonly number[]>>;
  failed?: boolean;
}

function bench({ lanes, inputs, leadIn = 'none', blocks, failed = false }: Bench) {
  const sounds: Partial<Record<SoundSource, SoundRingMemory>> = {};
  for (const [id, values] of Object.entries(blocks) as [SoundSource, readonly number[]][]) {
    const ring = createSoundRingMemory(6);
    const writer = openSoundRingWriter(ring);
    for (const value of values) writer.write(new Float32Array(blockValues).fill(value), 0, 0);
    sounds[id] = ring;
  }
  const figures = openSoundFigures(createSoundFiguresMemory(inputs.length));
  const peaks = new Float64Array(8);
  const loudness = new Float64Array(8).fill(NaN);
  const options: LaneMixerOptions = {
    lanes,
    inputs,
    sounds,
    leadIn,
    peaks,
    loudness,
    figures,
    lateUs: () => null,
    failed: () => failed,
    lost: () => false,
    write: () => {},
    reopened: () => {
      throw new Error('no encoder is to be had');
    },
    laneAway: () => {},
  };
  return { mixer: createLaneMixer(options), figures, peaks, loudness };
}

describe('mixing lanes', () => {
  it('adds the sounds of each lane, each at its own level, and no other', () => {
    const lanes = [keeping('game', 'voice'), keeping('voice')];
    const { mixer, peaks, figures } = bench({
      lanes,
      inputs: [input('game'), input('voice', { gainDb: 20 * Math.log10(2) })],
      blocks: { game: [0.1, 0.1], voice: [0.2, 0.2] },
    });
    mixer.mixUntil(20_000);
    expect(lanes[0]?.samples).toHaveLength(2 * blockValues);
    for (const value of lanes[0]!.samples) expect(value).toBeCloseTo(0.5, 5);
    for (const value of lanes[1]!.samples) expect(value).toBeCloseTo(0.4, 5);
    expect([peaks[0], peaks[1]]).toEqual([expect.closeTo(0.5, 5), expect.closeTo(0.4, 5)]);
    expect(figures.get(1, 'peak')).toBeCloseTo(0.4, 5);
    expect(mixer.silenceSamples()).toEqual([0, 0]);
  });
  it('leaves a lane silent whose sound is not listened to, which is nothing missing', () => {
    const lanes = [keeping('voice')];
    const { mixer } = bench({ lanes, inputs: [input('voice', { muted: true })], blocks: {} });
    mixer.mixUntil(30_000);
    expect(lanes[0]?.samples.every((value) => value === 0)).toBe(true);
    expect(mixer.silenceSamples()).toEqual([0]);
  });
  it('fades a held sound in and out over a block, so that no step is larger than the fade', () => {
    const lanes = [keeping('voice')];
    const { mixer, figures } = bench({
      lanes,
      inputs: [input('voice', { opening: 'held' })],
      blocks: { voice: Array(6).fill(0.5) as number[] },
    });
    mixer.mixUntil(20_000);
    figures.set(0, 'held', 1);
    mixer.mixUntil(40_000);
    figures.set(0, 'held', 0);
    mixer.mixUntil(60_000);
    const left = lanes[0]!.samples.filter((_, i) => i % 2 === 0);
    expect(left.slice(0, 960).every((value) => value === 0)).toBe(true);
    expect(left[960 + 479]).toBeCloseTo(0.5, 2);
    expect(left.slice(960 + 480, 1920).every((value) => value === 0.5)).toBe(true);
    expect(left.slice(1920 + 480).every((value) => value === 0)).toBe(true);
    const largest = left.reduce((most, value, i) => Math.max(most, Math.abs(value - (left[i - 1] ?? value))), 0);
    expect(largest).toBeLessThanOrEqual(0.5 / 480 + 1e-6);
  });
  it('gives silence for what the take does not wait for any more, and counts it for the lanes that keep it', () => {
    const lanes = [keeping('game'), keeping('voice')];
    const { mixer } = bench({
      lanes,
      inputs: [input('game'), input('voice')],
      blocks: { game: [0.3, 0.3, 0.3], voice: [0.3] },
      failed: true,
    });
    mixer.mixUntil(30_000);
    expect(mixer.silenceSamples()).toEqual([0, 960]);
    expect(lanes[1]?.samples.slice(0, blockValues).every((value) => Math.abs(value - 0.3) < 1e-6)).toBe(true);
    expect(lanes[1]?.samples.slice(blockValues).every((value) => value === 0)).toBe(true);
  });
  it('ends with a piece as long as the picture asks', () => {
    const lanes = [keeping('game')];
    const { mixer } = bench({ lanes, inputs: [input('game')], blocks: { game: Array(10).fill(0.1) as number[] } });
    mixer.finishAt(33_333);
    // 33.333 ms at 48 kHz are 1 600 samples.
    expect(lanes[0]?.samples).toHaveLength(1600 * 2);
  });
  it('tells the loudness of a lane once there is a tenth of a second', () => {
    const lanes = [keeping('game')];
    const tone = Array(60).fill(0) as number[];
    const { mixer, loudness } = bench({ lanes, inputs: [input('game')], blocks: { game: tone } });
    mixer.mixUntil(600_000);
    // Silence has none.
    expect(loudness[0]).toBeNaN();
  });
});

describe('the lead-in', () => {
  const blocks = Array(420).fill(0.001) as number[];
  it.each(['silence', 'mark'] as const)('%s: the noise of the first second is measured, and of no more', (leadIn) => {
    const lanes = [keeping('voice')];
    const { mixer, figures } = bench({ lanes, inputs: [input('voice')], leadIn, blocks: { voice: blocks } });
    mixer.mixUntil(4_000_000);
    expect(figures.get(0, 'floorSamples')).toBe(48_000 * 2);
    const rms = Math.sqrt(figures.get(0, 'floorSquares') / figures.get(0, 'floorSamples'));
    expect(20 * Math.log10(rms)).toBeCloseTo(-60, 1);
  });
  it('none: nothing is measured, and no mark sounds', () => {
    const lanes = [keeping('voice')];
    const { mixer, figures } = bench({ lanes, inputs: [input('voice')], blocks: { voice: blocks } });
    mixer.mixUntil(4_000_000);
    expect(figures.get(0, 'floorSamples')).toBe(0);
    expect(lanes[0]?.samples.every((value) => Math.abs(value) < 0.002)).toBe(true);
  });
  it('mark: sounds in every lane, also in one whose sound is muted', () => {
    const lanes = [keeping('voice'), keeping('chat')];
    const inputs = [input('voice'), input('chat', { muted: true })];
    const { mixer } = bench({ lanes, inputs, leadIn: 'mark', blocks: { voice: blocks } });
    mixer.mixUntil(4_000_000);
    for (const { samples } of lanes)
      for (const us of leadInMarksUs) {
        const at = ((us * 48_000) / 1e6) * 2;
        expect(Math.abs(samples[at] ?? 0)).toBeGreaterThan(0.24);
        expect(Math.abs(samples[at - 2] ?? 0)).toBeLessThan(0.002);
      }
  });
});
