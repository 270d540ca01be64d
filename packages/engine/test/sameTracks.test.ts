import { execFileSync } from 'node:child_process';
import { copyFileSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { withEncoder } from '@mellow/core';
import { rewrapResultSchema, sameTracksSchema, type EncoderName, type FrameRate } from '@mellow/model';
import { runMediaJob } from '@mellow/engine';
import { openTakeBench, type MadeTake, type TakeBench, type TakeChange } from './support/drivenTake';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const rewrapped = async (take: MadeTake, suffix: string): Promise<string> => {
  const { filePath, recipe } = { ...take.result, ...take.order };
  const outPath = filePath.replace(/\.\w+$/, ` copy.${suffix}`);
  const job = { kind: 'rewrap' as const, filePath: take.result.filePath, outPath, rate: recipe.rate };
  return rewrapResultSchema.parse(await runMediaJob(job)).filePath;
};
const compare = async (filePath: string, copyPath: string, rate: FrameRate) =>
  sameTracksSchema.parse(await runMediaJob({ kind: 'same-tracks', filePath, copyPath, rate }));

/** The picture's own track as FFmpeg's streamhash muxer takes it. */
const pictureHash = (path: string): string =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v', '-c', 'copy', '-f', 'streamhash', '-']).toString();

const ntsc: FrameRate = { num: 60_000, den: 1001 };
const lane = (codec: 'flac' | 'aac' | 'opus' | 'pcm', name: string) => ({
  ...{ name, sources: ['game' as const], codec, bitrateKbps: 160 },
});
const small: TakeChange = { game: { widthPx: 320, heightPx: 180 }, size: { widthPx: 320, heightPx: 180 } };
const cases: [string, EncoderName, TakeChange, string][] = [
  [
    'AVC with pictures out of order, two lanes',
    'avc-software',
    { recipe: { rate: ntsc, lanes: [lane('flac', 'A'), lane('aac', 'B')] }, encode: { bFrames: 2, effort: 'light' } },
    'mp4',
  ],
  ['HEVC', 'hevc-software', { recipe: { lanes: [lane('opus', 'A')] } }, 'mp4'],
  ['AV1', 'av1-software', { recipe: { lanes: [lane('aac', 'A')] } }, 'mp4'],
  ['Motion JPEG without sound', 'mjpeg-software', { recipe: { lanes: [] } }, 'mp4'],
  ['Ut Video to Matroska', 'utvideo-software', { recipe: { lanes: [lane('flac', 'A')] }, encode: {} }, 'mkv'],
  [
    'Ut Video of all colours to Matroska',
    'utvideo-software',
    { recipe: { lanes: [lane('pcm', 'A')] }, encode: { pixels: '4:4:4' } },
    'mkv',
  ],
  ['AVC to Matroska', 'avc-software', { recipe: { container: 'fragmented-mp4', lanes: [lane('aac', 'A')] } }, 'mkv'],
];

it.each(cases)('a copy of %s is the same in every byte and frame', async (_, encoder, change, suffix) => {
  const base = bench.orderOf(change).recipe;
  const take = await bench.make({
    ...small,
    ...change,
    encode: { ...withEncoder(base, encoder).encode, keyDistanceFrames: 30, ...change.encode },
    ...(change.recipe?.container === 'fragmented-mp4' ? { suffix: 'mp4' } : {}),
    order: { dueFrames: 200 },
  });
  const copy = await rewrapped(take, suffix);
  const found = await compare(take.result.filePath, copy, take.order.recipe.rate);
  expect(found).toMatchObject({ why: null, pictures: 200, tracks: 1 + take.order.recipe.lanes.length });
  expect(pictureHash(copy)).toBe(pictureHash(take.result.filePath));
  // And the other way round: neither has anything that the other lacks.
  expect(await compare(copy, take.result.filePath, take.order.recipe.rate)).toMatchObject({ why: null });
});

describe('what is not the same is named', () => {
  let take: MadeTake;
  let copy: string;
  beforeAll(async () => {
    take = await bench.make({ ...small, recipe: { lanes: [lane('flac', 'A')] }, order: { dueFrames: 300 } });
    copy = await rewrapped(take, 'mp4');
  });
  const damaged = (name: string, change: (bytes: Buffer) => void): string => {
    const path = join(take.order.driveFolder, name);
    const bytes = readFileSync(copy);
    change(bytes);
    writeFileSync(path, bytes);
    return path;
  };
  const against = async (path: string) => (await compare(take.result.filePath, path, take.order.recipe.rate)).why;

  it('one bit of a picture', async () => {
    const path = damaged('bit.mp4', (bytes) => {
      const at = bytes.indexOf('mdat') + 4000;
      bytes[at] = (bytes[at] ?? 0) ^ 1;
    });
    expect(await against(path)).toMatch(/^Its (picture|lane 1) is not the same byte by byte\.$/);
  });
  it('a take of another length, and one with another lane', async () => {
    const shorter = await bench.make({ ...small, recipe: { lanes: [lane('flac', 'A')] }, order: { dueFrames: 299 } });
    expect(await against(shorter.result.filePath)).toBe('It has 299 pictures, the take 300.');
    const silent = await bench.make({ ...small, recipe: { lanes: [] }, order: { dueFrames: 300 } });
    expect(await against(silent.result.filePath)).toBe('It has 1 tracks, the take 2.');
  });
  it('pictures that stand elsewhere', async () => {
    // The same bytes at another rate: FFmpeg's own tool gives each picture another time.
    const path = join(take.order.driveFolder, 'slower.mkv');
    copyFileSync(copy, join(take.order.driveFolder, 'slow.mp4'));
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-itsscale', '1.25', '-i', join(take.order.driveFolder, 'slow.mp4')],
      ...['-map', '0', '-c', 'copy', path],
    ]);
    expect(await against(path)).toMatch(/^Its picture \d+ stands in another frame\.$/);
  });
  it('sound that stands elsewhere, beginning later or with a gap', async () => {
    const shifted = join(take.order.driveFolder, 'shifted.mkv');
    const own = ['-v', 'error', '-i', take.result.filePath];
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-i', take.result.filePath, '-itsoffset', '2', '-i', take.result.filePath],
      ...['-map', '0:v', '-map', '1:a', '-c', 'copy', shifted],
    ]);
    expect(await against(shifted)).toMatch(/^Its lane 1 stands (19|20)\d\d ms from where it was\.$/);
    const gap = join(take.order.driveFolder, 'gap.mkv');
    // Packets from the middle on come half a second later.
    execFileSync('ffmpeg', [
      ...own,
      ...['-map', '0', '-c', 'copy', '-bsf:a', 'setts=ts=TS+if(gt(N\\,20)\\,500\\,0)', gap],
    ]);
    expect(await against(gap)).toMatch(/^Its lane 1 stands \d+ ms from where it was\.$/);
  });
  it('a lane that ends early', async () => {
    const short = join(take.order.driveFolder, 'short.mkv');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-i', take.result.filePath, '-t', '2', '-i', take.result.filePath],
      ...['-map', '0:v', '-map', '1:a', '-c', 'copy', short],
    ]);
    expect(await against(short)).toBe('Its lane 1 is not the same byte by byte.');
  });
  it('another name, another default, and another colour', async () => {
    const renamed = join(take.order.driveFolder, 'renamed.mkv');
    const say = (path: string, ...words: string[]): void =>
      void execFileSync('ffmpeg', [
        '-v',
        'error',
        '-i',
        take.result.filePath,
        '-map',
        '0',
        '-c',
        'copy',
        ...words,
        path,
      ]);
    say(renamed, '-metadata:s:a:0', 'title=B');
    expect(await against(renamed)).toBe('Its name is B, not A (lane 1).');
    const other = join(take.order.driveFolder, 'other.mkv');
    say(other, '-disposition:a:0', '0');
    expect(await against(other)).toBe('Its default track is not told, not yes (lane 1).');
    const red = join(take.order.driveFolder, 'red.mkv');
    execFileSync('mkvmerge', ['-q', '-o', red, '--color-range', '0:2', take.result.filePath]);
    expect(await against(red)).toMatch(/^Its range is \d, not \d \(picture\)\.$/);
  });
  it('a tag under which nobody can decode it', async () => {
    const change: TakeChange = { recipe: { lanes: [] }, order: { dueFrames: 30 } };
    const base = bench.orderOf(change).recipe;
    const own = await bench.make({ ...change, encode: withEncoder(base, 'utvideo-software').encode });
    const path = own.result.filePath.replace('.mkv', ' other.mkv');
    const bytes = readFileSync(own.result.filePath);
    const at = bytes.indexOf('ULH0');
    expect(at).toBeGreaterThan(0);
    bytes.write('ULRA', at, 'latin1');
    writeFileSync(path, bytes);
    const { why } = await compare(own.result.filePath, path, own.order.recipe.rate);
    expect(why).toMatch(/^Its codec tag is \d+, not \d+ \(picture\)\.$/);
  });
  it('a file that is none', async () => {
    const path = damaged('none.mp4', (bytes) => void bytes.fill(0, 0, 4000));
    await expect(against(path)).rejects.toThrow(/no recording that can be read/);
  });
});
