import { flashField, soundRateHz } from '@mellow/practice';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { decodeSound, probePictures, readStripsOf } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

/** First picture of each flash, in microseconds of the file. */
function flashTimes(take: MadeTake): number[] {
  const { recipe, game } = take.order;
  const { x, y, size } = flashField(game.widthPx);
  const pictures = probePictures(take.result.filePath);
  const lit = readStripsOf(take.result.filePath, recipe.size, game).map(
    ({ luma }) => (luma[(y + size / 2) * recipe.size.widthPx + x + size / 2] ?? 0) > 128,
  );
  return lit.flatMap((on, i) => (on && !lit[i - 1] ? [pictures[i]?.timeUs ?? NaN] : []));
}

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
