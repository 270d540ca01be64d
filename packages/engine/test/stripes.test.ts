import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, truncateSync } from 'node:fs';
import { join } from 'node:path';
import { stripeLayout, wholeInStripes } from '@mellow/core';
import { rescueResultSchema, rewrapResultSchema, type StripeOrder } from '@mellow/model';
import { reserveFile, rollToEnd, runMediaJob } from '@mellow/engine';
import { openTakeBench, readableOf, type MadeTake, type TakeBench, type TakeChange } from './support/drivenTake';
import { probePictures } from './support/probe';

/** A hash of every packet of every track, by FFmpeg’s streamhash muxer. */
const contentsOf = (path: string): string =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-map', '0', '-c', 'copy', '-f', 'streamhash', '-']).toString();

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

let count = 0;
/** Small blocks, so that a short take goes round many times. */
function spread(
  speeds: readonly number[],
  suffix: string,
  quotas: readonly (number | null)[] = [],
  blockBytes = 4096,
): StripeOrder {
  const name = `striped ${++count}`;
  return {
    ...stripeLayout(speeds, 'by-speed', blockBytes),
    places: speeds.map((_, i) => {
      const driveFolder = join(bench.folder, `${name} drive ${i + 1}`);
      mkdirSync(driveFolder);
      const path = join(driveFolder, `take stripe ${i + 1}.${suffix}`);
      return {
        ...reserveFile(path),
        driveFolder,
        quotaBytes: quotas[i] ?? null,
        largestFileBytes: null,
        reservePath: null,
      };
    }),
  };
}

const withStripes = (change: TakeChange, stripes: StripeOrder): TakeChange => {
  const [{ path: filePath, identity, driveFolder } = { path: '', identity: null, driveFolder: '' }] = stripes.places;
  return {
    ...change,
    order: { ...change.order, stripes, filePath, driveFolder, ...(identity ? { identity } : {}) },
  };
};

const builtOf = async ({ order, result }: MadeTake, suffix: string): Promise<string> =>
  rewrapResultSchema.parse(
    await runMediaJob({
      kind: 'rewrap',
      filePath: readableOf(order, result),
      outPath: join(bench.folder, `${order.takeId} built.${suffix}`),
      rate: order.recipe.rate,
      asIs: true,
    }),
  ).filePath;

describe('a take on several drives at once', () => {
  it.each([
    ['matroska', 'avc-software', 'flac', 2, [1, 1], 'mkv'],
    ['matroska', 'ffv1-software', 'pcm', 0, [300, 100, 50], 'mkv'],
    ['fragmented-mp4', 'hevc-software', 'aac', 0, [2, 1], 'mp4'],
    ['fragmented-mp4', 'av1-software', 'opus', 0, [1, 1, 1, 1], 'mp4'],
  ] as const)(
    '%s of %s with %s, %d B-frames, over %j: built it is the take in one file, byte by byte in its packets',
    async (container, encoder, codec, bFrames, speeds, suffix) => {
      const change: TakeChange = {
        game: { widthPx: 320, heightPx: 180 },
        size: { widthPx: 320, heightPx: 180 },
        recipe: { container, lanes: [{ name: 'All', sources: ['game'], codec, bitrateKbps: 128 }] },
        // One thread: an encoder with several may decide otherwise each time.
        encode: {
          encoder,
          bFrames,
          keyDistanceFrames: 30,
          effort: 'lightest',
          threads: 1,
          ...(encoder === 'ffv1-software' ? { rateControl: 'lossless' as const } : {}),
        },
        order: { dueFrames: 240 },
        suffix,
      };
      const whole = await bench.make(change);
      const stripes = spread(speeds, suffix);
      const take = await bench.make(withStripes(change, stripes));
      expect(take.result).toMatchObject({ closedWell: true, disagreements: [], keptStripes: [] });
      expect(take.columns.fate).toEqual(whole.columns.fate);
      expect(take.result.facts?.picture).toMatchObject({
        packets: whole.result.facts?.picture.packets,
        pictureBytes: whole.result.facts?.picture.pictureBytes,
      });
      const sizes = stripes.places.map(({ path }) => statSync(path).size);
      expect(Math.min(...sizes)).toBeGreaterThan(0);
      expect(wholeInStripes(stripes, sizes)).toBe(sizes.reduce((sum, size) => sum + size, 0));
      const built = await builtOf(take, suffix);
      expect(statSync(built).size).toBe(wholeInStripes(stripes, sizes));
      const packets = (path: string) => probePictures(path).map(({ timeUs, bytes, key }) => [timeUs, bytes, key]);
      expect(packets(built)).toEqual(packets(whole.result.filePath));
      expect(contentsOf(built)).toBe(contentsOf(whole.result.filePath));
    },
    120_000,
  );

  it('ends well when the first of its folders is full, with all that fits over all', async () => {
    const stripes = spread([1, 1], 'mkv', [600_000, null]);
    const take = await bench.make(
      withStripes({ encode: { quality: 10, keyDistanceFrames: 30 }, order: { dueFrames: 100_000 } }, stripes),
    );
    expect(take.result.end).toBe('drive-full');
    expect(take.result.facts?.bytes).toBeGreaterThan(700_000);
    expect(take.result.facts?.bytes).toBeLessThan(1_210_000);
    expect(take.result.summary.filed).toBe(take.result.facts?.picture.packets);
  }, 120_000);

  it('keeps what it holds of a drive that goes away, and ends', async () => {
    const stripes = spread([1, 1], 'mkv', [], 65_536);
    const order = bench.orderOf(
      withStripes({ encode: { quality: 10 }, order: { clock: 'real', dueFrames: 3600 } }, stripes),
    );
    const stop = bench.recorder().onEvent((event) => {
      if (event.type === 'live' && event.live.durableBytes > 200_000)
        rmSync(stripes.places[1]!.driveFolder, { recursive: true, force: true });
    });
    const closing = await rollToEnd(bench.recorder(), order).finally(stop);
    expect(closing).toMatchObject({ end: 'drive-gone', keptStripes: [{ stripe: 1 }] });
    const list = readableOf(order, closing);
    const facts = await runMediaJob({ kind: 'facts', filePath: list });
    expect(facts).toMatchObject({ picture: { packets: expect.any(Number) } });
    expect((facts as { picture: { packets: number } }).picture.packets).toBeGreaterThan(30);
  }, 120_000);

  it('of which a stripe ends early is whole up to there; one that is away is waited for, and nothing is changed', async () => {
    const stripes = spread([2, 1, 1], 'mkv');
    const take = await bench.make(withStripes({ order: { dueFrames: 240 } }, stripes));
    const all = take.result.facts?.picture.packets ?? 0;
    const [, second, third] = stripes.places;
    truncateSync(third!.path, Math.floor(statSync(third!.path).size / 2));
    const rescue = async () =>
      rescueResultSchema.parse(
        await runMediaJob({
          kind: 'rescue',
          ledgerFolder: take.order.ledgerFolder,
          filePath: take.order.filePath,
          identity: take.order.identity,
          fallbackFolder: bench.folder,
          earlier: [],
          startUs: 0,
          dueHeard: 240,
          stripes: { blockBytes: stripes.blockBytes, pattern: stripes.pattern, files: stripes.places },
        }),
      );
    const found = await rescue();
    expect(found.away).toBe(false);
    expect(found.facts?.picture.packets).toBeGreaterThan(all / 3);
    expect(found.facts?.picture.packets).toBeLessThan(all * 0.7);
    expect(found.summary.filed).toBe(found.facts?.picture.packets);
    const before = readFileSync(stripes.places[0]!.path);
    rmSync(second!.path);
    expect(await rescue()).toMatchObject({ away: true, text: expect.stringContaining(second!.path) });
    expect(readFileSync(stripes.places[0]!.path).equals(before)).toBe(true);
    expect(existsSync(second!.path)).toBe(false);
  }, 120_000);
});
