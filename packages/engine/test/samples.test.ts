import { execFileSync } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { SampleSource } from '@mellow/model';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import { readStripsOf } from './support/probe';
import { expectSameEachTime, factsOf, filed, play, sampleAt, size } from './support/samplePlay';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

// Red, green and blue, and for longer: matrix/samples.matrix.ts.
describe('a sample', () => {
  it('played twice, round and again, is the same in every picture', () => expectSameEachTime(bench, '4:2:0', 2));

  it('may be any media file: another codec, size and rate, with pictures out of order, scaled into the recipe’s', async () => {
    const made = await bench.make({
      game: { ...size, capFps: 120 },
      recipe: { rate: { num: 30, den: 1 }, container: 'mp4' },
      size,
      encode: { encoder: 'avc-software', bFrames: 2, quality: 16 },
    });
    const sample = await sampleAt(made.result.filePath);
    expect(sample.rate).toEqual({ num: 30, den: 1 });
    const take = await play(bench, sample, 2, { size: { widthPx: 480, heightPx: 270 } });
    const numbers = readStripsOf(made.result.filePath, size, size).map(({ strip }) => strip?.number ?? null);
    const strips = readStripsOf(take.result.filePath, { widthPx: 480, heightPx: 270 }, size);
    const rows = filed(take);
    expect(rows.length).toBeGreaterThan(80);
    expect(rows.filter(({ source }, i) => strips[i]?.strip?.number !== numbers[source % 90])).toEqual([]);
    // Half of a 60 fps file repeats a 30 fps sample.
    expect(take.result.summary.fates.repeat).toBeGreaterThan(40);
  });

  it('of full range and another matrix is turned into what the path expects', async () => {
    const path = join(bench.folder, 'full.mkv');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'color=c=red:s=640x360:r=30:d=1,format=gbrp'],
      ...['-vf', 'scale=out_color_matrix=smpte170m:out_range=full,format=yuv420p', '-color_range', 'pc'],
      ...['-colorspace', 'smpte170m', '-c:v', 'ffv1', path],
    ]);
    const take = await play(bench, await sampleAt(path), 1);
    const raw = execFileSync('ffmpeg', [
      '-v',
      'error',
      '-i',
      take.result.filePath,
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-',
    ]);
    const [luma, cb, cr] = [raw[100], raw[640 * 360 + 100], raw[640 * 360 * 1.25 + 100]];
    // Red of Rec. 709 in limited range (ITU-R BT.709): 63, 102, 240.
    expect(Math.abs((luma ?? 0) - 63)).toBeLessThanOrEqual(2);
    expect(Math.abs((cb ?? 0) - 102)).toBeLessThanOrEqual(2);
    expect(Math.abs((cr ?? 0) - 240)).toBeLessThanOrEqual(2);
  });

  it('that is no media file, has no picture or is gone is refused in words', async () => {
    const text = join(bench.folder, 'notes.txt');
    writeFileSync(text, 'not a film');
    await expect(factsOf(text)).rejects.toThrow('no recording that can be read');
    const sound = join(bench.folder, 'tone.wav');
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=d=1', sound]);
    await expect(factsOf(sound)).rejects.toThrow(/picture track/);
    const gone: SampleSource = {
      kind: 'sample',
      ...{ path: join(bench.folder, 'gone.mkv'), name: 'gone', ...size },
      ...{ pixels: 'yuv420p', rate: { num: 60, den: 1 }, frames: 2, lengthUs: 1e6 },
    };
    await expect(play(bench, gone, 1)).rejects.toThrow(/gone\.mkv/);
    expect(existsSync(gone.path)).toBe(false);
  });

  it('whose file ends early goes on from its beginning, and stopping in the middle closes the take', async () => {
    const made = await bench.make({ game: size, recipe: { lanes: [] }, size, order: { dueFrames: 7 } });
    const sample = await sampleAt(made.result.filePath);
    const take = await play(bench, sample, 2, { order: { keepPictures: true } });
    expect(take.result.closedWell).toBe(true);
    expect(Math.max(...Array.from(take.columns.sourceFrame))).toBeGreaterThan(60);
  });
});
