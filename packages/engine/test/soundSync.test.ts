import { practiceSounds } from '@mellow/model';
import { soundRateHz } from '@mellow/practice';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import { decodeLuma, decodeRgb, decodeSound, probePictures } from './support/probe';
import { flashTimes } from './support/soundTiming';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

/** Onset of each click, in microseconds: the steepest rise near each second. */
function clickTimes(samples: Float32Array, count: number, expectedUs: (second: number) => number): number[] {
  return Array.from({ length: count }, (_, second) => {
    const centre = Math.round((expectedUs(second) * soundRateHz) / 1e6);
    let best = -1;
    let steepest = 0;
    for (let i = Math.max(1, centre - 2400); i < Math.min(samples.length, centre + 2400); i++) {
      const rise = Math.abs((samples[i] ?? 0) - (samples[i - 1] ?? 0));
      if (rise > steepest) [steepest, best] = [rise, i];
    }
    // AAC in Matroska fades in over its first 21 ms, where the first click lies.
    if (second > 0) expect(steepest).toBeGreaterThan(0.15);
    return (best / soundRateHz) * 1e6;
  });
}

const seconds = 4;

describe('sound against picture', () => {
  it.each([
    ['matroska', 'flac', 'mkv', 0],
    ['matroska', 'pcm', 'mkv', 0],
    ['matroska', 'aac', 'mkv', 0],
    ['matroska', 'opus', 'mkv', 0],
    ['mp4', 'aac', 'mp4', 0],
    ['fragmented-mp4', 'flac', 'mp4', 0],
    ['fragmented-mp4', 'aac', 'mp4', 2],
    ['matroska', 'flac', 'mkv', 2],
  ] as const)(
    '%s with %s (.%s, %d B-frames): flash and click within 1 ms of each other, first and last alike',
    async (container, codec, suffix, bFrames) => {
      const take = await bench.make({
        suffix,
        recipe: { container, lanes: [{ name: 'Game', sources: ['game'], codec, bitrateKbps: 256 }] },
        encode: { bFrames, effort: bFrames ? 'light' : 'lightest' },
        order: { dueFrames: 60 * seconds },
      });
      const offsetUs = take.result.fileOffsetUs ?? 0;
      const flashes = flashTimes(take);
      expect(flashes).toHaveLength(seconds);
      flashes.forEach((us, second) => expect(Math.abs(us - second * 1e6 - offsetUs)).toBeLessThanOrEqual(1000));
      const clicks = clickTimes(decodeSound(take.result.filePath, 0), seconds, (second) => second * 1e6 + offsetUs);
      // The click at the very start has no rise in front of it in every codec; the others are held to the flashes.
      const drift = clicks.slice(1).map((us, i) => us - (flashes[i + 1] ?? NaN));
      for (const us of drift) expect(Math.abs(us)).toBeLessThanOrEqual(1000);
      expect(Math.abs((drift.at(-1) ?? 0) - (drift[0] ?? 0))).toBeLessThanOrEqual(1000);
    },
  );

  it('lanes keep exactly the sources they were given, to the sample', async () => {
    const take = await bench.make({
      recipe: {
        lanes: [
          { name: 'All', sources: ['game', 'voice'], codec: 'pcm', bitrateKbps: 320 },
          { name: 'Game', sources: ['game'], codec: 'pcm', bitrateKbps: 320 },
          { name: 'Voice', sources: ['voice'], codec: 'flac', bitrateKbps: 320 },
        ],
      },
    });
    const [all, game, voice] = [0, 1, 2].map((track) => decodeSound(take.result.filePath, track));
    expect(all?.length).toBe(1.5 * soundRateHz);
    let worst = 0;
    all?.forEach((value, i) => (worst = Math.max(worst, Math.abs(value - (game?.[i] ?? 0) - (voice?.[i] ?? 0)))));
    // Three roundings to 16 bits.
    expect(worst).toBeLessThan(3 / 32768);
  });
});

describe('the lead-in’s marks', () => {
  it.each([
    [30, '4:2:0', 'limited'],
    [60, '4:2:0', 'full'],
    [25, 'rgb', 'full'],
    [60, '4:4:4', 'limited'],
  ] as const)(
    'at %d fps in %s, %s: tone and square begin with the same picture, three times',
    async (fps, pixels, range) => {
      const take = await bench.make({
        game: { widthPx: 320, heightPx: 180, strip: false },
        size: { widthPx: 320, heightPx: 180 },
        recipe: {
          rate: { num: fps, den: 1 },
          leadIn: 'mark',
          // A lane that is otherwise silent: what sounds there is the mark.
          sounds: [{ ...practiceSounds[1]!, muted: true }],
          lanes: [{ name: 'Voice', sources: ['voice'], codec: 'flac', bitrateKbps: 160 }],
        },
        encode: { pixels, range, effort: 'lightest' },
        order: { dueFrames: fps * 4, keepPictures: true },
      });
      const offsetUs = take.result.fileOffsetUs ?? 0;
      const samples = decodeSound(take.result.filePath, 0);
      const onsets: number[] = [];
      samples.forEach((value, i) => {
        if (Math.abs(value) > 0.2 && i - (onsets.at(-1) ?? -1e9) > 24_000) onsets.push(i);
      });
      expect(onsets.map((i) => Math.round((i / 48_000) * 1000 - offsetUs / 1000))).toEqual([1000, 2000, 3000]);
      // The figure's own black edge at the left of the middle, and its white in the middle of the top stroke.
      const times = probePictures(take.result.filePath).map(({ timeUs }) => timeUs - offsetUs);
      const cell = Math.floor(180 / 3 / 7);
      const [left, top] = [Math.floor((320 - cell * 5) / 2), Math.floor((180 - cell * 7) / 2)];
      const step = pixels === 'rgb' ? 3 : 1;
      const samples8 = pixels === 'rgb' ? decodeRgb(take.result.filePath) : decodeLuma(take.result.filePath);
      const lit = times.map((_, n) => {
        const at = (column: number, row: number) =>
          samples8[
            step * (n * 320 * 180 + (top + row * cell + (cell >> 1)) * 320 + left + column * cell + (cell >> 1))
          ] ?? 0;
        return at(2, 1) > 200 && at(0, 0) < 50 && at(4, 6) < 50;
      });
      const begins = lit.flatMap((on, n) => (on && !lit[n - 1] ? [times[n] ?? NaN] : []));
      expect(begins).toHaveLength(3);
      begins.forEach((us, i) => expect(Math.abs(us - (i + 1) * 1e6)).toBeLessThanOrEqual(500_000 / fps + 1000));
    },
  );
});
