import { existsSync, mkdirSync, readFileSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { nearestDue, dueUs } from '@mellow/core';
import { rewrapResultSchema, type PartOrder, type Recipe } from '@mellow/model';
import { ledgerNames, runMediaJob, writePartsList } from '@mellow/engine';
import { openTakeBench, type MadeTake, type TakeBench, type TakeChange } from './support/drivenTake';
import { decodeLuma, decodeSound, mkvmerge, probePictures } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const small: TakeChange = { game: { widthPx: 320, heightPx: 180 }, size: { widthPx: 320, heightPx: 180 } };
const cutBy = (change: Partial<PartOrder>): PartOrder => ({ everyFrames: null, mostBytes: null, next: [], ...change });
const made = (change: TakeChange, parts: PartOrder | null): Promise<MadeTake> =>
  bench.make({ ...small, ...change, order: { ...change.order, parts } });

async function joined(take: MadeTake, suffix: string): Promise<string> {
  const { filePath } = rewrapResultSchema.parse(
    await runMediaJob({
      kind: 'rewrap',
      filePath: writePartsList(take.order.ledgerFolder, take.result.parts),
      outPath: join(bench.folder, `${take.order.takeId} joined.${suffix}`),
      rate: take.order.recipe.rate,
    }),
  );
  return filePath;
}

/** Each part alone begins with a key picture at 0, and all together have every frame once. */
function expectParts({ result, order }: MadeTake, whole: MadeTake): void {
  const all = probePictures(whole.result.filePath).map(({ timeUs }) => timeUs - (whole.result.fileOffsetUs ?? 0));
  const found = result.parts.flatMap(({ path, startUs }) => {
    const pictures = probePictures(path);
    expect(pictures[0]).toMatchObject({ key: true });
    expect(pictures[0]?.timeUs).toBeLessThan(25_000);
    return pictures.map(({ timeUs }) => timeUs - (pictures[0]?.timeUs ?? 0) + startUs);
  });
  expect(found).toHaveLength(all.length);
  found.forEach((us, i) => expect(Math.abs(us - (all[i] ?? 0))).toBeLessThan(1100));
  const names = result.parts.map(({ path }) => basename(path));
  expect(names.slice(1)).toEqual(names.slice(1).map((_, i) => expect.stringContaining(`part ${i + 2}`)));
  expect(result.parts[0]?.path).toBe(order.filePath);
}

const lanes = (codec: Recipe['lanes'][number]['codec']): Recipe['lanes'] => [
  { name: 'All', sources: ['game', 'voice'], codec, bitrateKbps: 192 },
  { name: 'Voice', sources: ['voice'], codec, bitrateKbps: 192 },
];

describe('a take in parts', () => {
  it.each([
    ['matroska', 'flac', 'avc-software', 2, { num: 60, den: 1 }, 'mkv'],
    ['matroska', 'opus', 'hevc-software', 0, { num: 30000, den: 1001 }, 'mkv'],
    ['fragmented-mp4', 'aac', 'avc-software', 0, { num: 30, den: 1 }, 'mp4'],
    ['matroska', 'pcm', 'mjpeg-software', 0, { num: 25, den: 1 }, 'mkv'],
    ['mp4', 'aac', 'avc-software', 1, { num: 24000, den: 1001 }, 'mp4'],
  ] as const)(
    '%s with %s and %s, %d B-frames at %j: joined it is the take in one file, to the bit and the sample',
    async (container, codec, encoder, bFrames, rate, suffix) => {
      const fps = Math.round(rate.num / rate.den);
      const change: TakeChange = {
        recipe: { container, rate, lanes: lanes(codec) },
        encode: { encoder, bFrames, keyDistanceFrames: fps / 2 > 15 ? 30 : 12, effort: 'lightest' },
        order: { dueFrames: fps * 7 },
        suffix,
      };
      const whole = await made(change, null);
      const take = await made(change, cutBy({ everyFrames: fps * 2 }));
      for (const { result } of [whole, take])
        expect(result).toMatchObject({ end: 'length', endText: null, closedWell: true, disagreements: [] });
      expect(take.result.silenceSamples).toEqual(whole.result.silenceSamples);
      expect(take.result.parts).toHaveLength(4);
      for (const { startUs } of take.result.parts)
        expect(Math.abs(startUs - dueUs(rate, nearestDue(rate, startUs)))).toBeLessThan(1);
      expectParts(take, whole);
      expect(take.columns.fate).toEqual(whole.columns.fate);
      expect(take.result.facts?.formatName).toBe(whole.result.facts?.formatName);
      expect(take.result.facts?.picture).toMatchObject({
        packets: whole.result.facts?.picture.packets,
        pictureBytes: whole.result.facts?.picture.pictureBytes,
      });
      // What the recorder wrote down before each file got its first byte is what it says at the end.
      expect(JSON.parse(readFileSync(join(take.order.ledgerFolder, ledgerNames.parts), 'utf8'))).toEqual(
        take.result.parts,
      );
      const one = await joined(take, codec === 'pcm' ? 'mkv' : 'mp4');
      expect(decodeLuma(one).equals(decodeLuma(whole.result.filePath))).toBe(true);
      for (const lane of [0, 1]) {
        const [a, b] = [decodeSound(one, lane), decodeSound(whole.result.filePath, lane)];
        expect(Math.abs(a.length - b.length)).toBeLessThan(codec === 'flac' || codec === 'pcm' ? 1 : 2048);
        const offset = a.length === b.length ? 0 : bestShift(a, b);
        let worst = 0;
        for (let i = 4800; i < Math.min(a.length, b.length) - 4800; i++)
          worst = Math.max(worst, Math.abs((a[i] ?? 0) - (b[i + offset] ?? 0)));
        expect(worst).toBeLessThan(codec === 'flac' || codec === 'pcm' ? 1e-6 : 0.02);
      }
    },
    120_000,
  );

  it('stays below a size, whatever its groups weigh, and each part is a file that other tools take', async () => {
    const mostBytes = 1_500_000;
    const take = await made(
      {
        game: { widthPx: 640, heightPx: 360 },
        size: { widthPx: 640, heightPx: 360 },
        recipe: { rate: { num: 30, den: 1 }, lanes: lanes('aac') },
        encode: { keyDistanceFrames: 30, bFrames: 0, quality: 4 },
        order: { dueFrames: 300 },
      },
      cutBy({ mostBytes }),
    );
    expect(take.result.parts.length).toBeGreaterThan(3);
    for (const { path } of take.result.parts) {
      expect(statSync(path).size).toBeLessThanOrEqual(mostBytes);
      expect(mkvmerge(path).tracks.length).toBeGreaterThan(1);
    }
    // mkvmerge (MKVToolNix) appends them to one file of all frames.
    const together = join(bench.folder, 'appended.mkv');
    const [first, ...rest] = take.result.parts.map(({ path }) => path);
    const { status, stdout } = spawnSync('mkvmerge', [
      '-o',
      together,
      first ?? '',
      ...rest.flatMap((path) => ['+', path]),
    ]);
    // 1 is a warning: the lanes' last packets reach over the cut.
    expect(stdout.toString()).not.toContain('Error');
    expect(status).toBeLessThan(2);
    expect(probePictures(together)).toHaveLength(300);
  });

  it('goes on in the next folder with room when the first is full, and passes over one that has none', async () => {
    const folders = ['first', 'full', 'last'].map((name) => join(bench.folder, name));
    for (const folder of folders) mkdirSync(folder, { recursive: true });
    const unplugged = join(bench.folder, 'unplugged');
    const [, full = '', last = ''] = folders;
    const place = (folder: string, quotaBytes: number) => ({
      ...{ folder: join(folder, 'Game'), driveFolder: folder, quotaBytes },
      ...{ largestFileBytes: null, reservePath: null },
    });
    const take = await made(
      {
        game: { widthPx: 640, heightPx: 360 },
        size: { widthPx: 640, heightPx: 360 },
        recipe: { rate: { num: 30, den: 1 } },
        encode: { encoder: 'ffv1-software' },
        // The drive is looked at once a second.
        order: { clock: 'real', dueFrames: 300, quotaBytes: 12e6 },
      },
      cutBy({ next: [place(unplugged, 1e9), place(full, 0), place(last, 1e9)] }),
    );
    expect(take.result).toMatchObject({ end: 'length', closedWell: true, disagreements: [] });
    expect(take.result.parts.map(({ path }) => dirname(path))).toEqual([bench.folder, join(last, 'Game')]);
    expect(take.log.filter((line) => line.includes('was passed over'))).toHaveLength(2);
    expect(existsSync(unplugged)).toBe(false);
    expect(statSync(take.result.parts[0]?.path ?? '').size).toBeLessThanOrEqual(12e6);
  });
});

function bestShift(a: Float32Array, b: Float32Array): number {
  let [best, least] = [0, Infinity];
  for (let off = -2048; off <= 2048; off++) {
    let sum = 0;
    for (let i = 9600; i < 10_600; i++) sum += Math.abs((a[i] ?? 0) - (b[i + off] ?? 0));
    if (sum < least) [best, least] = [off, sum];
  }
  return best;
}
