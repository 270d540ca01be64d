import { execFileSync } from 'node:child_process';
import { sampleOf } from '@mellow/core';
import { runMediaJob } from '@mellow/engine';
import { fates, mediaFactsSchema, type Recipe, type SampleSource } from '@mellow/model';
import type { MadeTake, TakeBench, TakeChange } from './drivenTake';

export const size = { widthPx: 640, heightPx: 360 };
export const factsOf = async (filePath: string) =>
  mediaFactsSchema.parse(await runMediaJob({ kind: 'sample-facts', filePath }));
export async function sampleAt(path: string): Promise<SampleSource> {
  const sample = sampleOf(await factsOf(path), path, 'a sample');
  if (typeof sample === 'string') throw new Error(sample);
  return sample;
}

const lossless = { encoder: 'ffv1-software', rateControl: 'lossless' } as const;
/** Plays a sample on the real clock at 60 fps, into a file without loss unless it is asked for otherwise. */
export const play = (
  bench: TakeBench,
  sample: SampleSource,
  seconds: number,
  change: TakeChange = {},
): Promise<MadeTake> =>
  bench.make({
    ...change,
    game: { ...size, capFps: 60, ...change.game },
    recipe: { rate: { num: 60, den: 1 }, source: sample, lanes: [], container: 'matroska', ...change.recipe },
    size: { ...size, ...change.size },
    encode: { ...lossless, ...change.encode },
    order: { source: sample, clock: 'real', dueFrames: seconds * 60, ...change.order },
  });

/** A hash of each picture's samples as they are stored (FFmpeg's framemd5 muxer). */
export const hashesOf = (path: string, as: string[] = []): string[] =>
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-map',
    '0:v:0',
    '-fps_mode',
    'passthrough',
    ...as,
    '-f',
    'framemd5',
    '-',
  ])
    .toString()
    .split('\n')
    .filter((line) => line && !line.startsWith('#'))
    .map((line) => line.split(',').at(-1)!.trim());

/** Filed rows, each with the source's frame and the hash of its picture. */
export function filed(take: MadeTake, as: string[] = []): { n: number; source: number; hash: string }[] {
  const hashes = hashesOf(take.result.filePath, as);
  const rows = Array.from(take.columns.fate, (code, n) => ({ n, fate: fates[code] })).filter(
    ({ fate }) => fate === 'new' || fate === 'repeat',
  );
  expect(hashes).toHaveLength(rows.length);
  return rows.map(({ n }, i) => ({ n, source: take.columns.sourceFrame[n] ?? -1, hash: hashes[i] ?? '' }));
}

/**
 * A sample of 90 pictures, recorded without loss and played twice, round and again, is the same in every picture; nearly all are
 * where its own clock puts them, however the threads woke.
 */
export async function expectSameEachTime(
  bench: TakeBench,
  pixels: Recipe['encode']['pixels'],
  seconds: number,
): Promise<void> {
  const made = await bench.make({
    game: size,
    recipe: { rate: { num: 60, den: 1 }, lanes: [], container: 'matroska' },
    size,
    encode: { encoder: 'utvideo-software', rateControl: 'lossless', pixels },
  });
  const sample = await sampleAt(made.result.filePath);
  expect(sample).toMatchObject({ ...size, frames: 90, pixels: pixels === 'rgb' ? 'bgr0' : 'yuv420p' });
  expect(sample.rate).toEqual({ num: 60, den: 1 });
  // Red, green and blue in one order, whatever the codec keeps them in.
  const as = pixels === 'rgb' ? ['-pix_fmt', 'rgb24'] : [];
  const original = hashesOf(made.result.filePath, as);
  const [once, again] = [
    await play(bench, sample, seconds, { encode: { pixels } }),
    await play(bench, sample, seconds, { encode: { pixels } }),
  ];
  for (const take of [once, again]) {
    const rows = filed(take, as);
    // How many a busy PC loses is no matter here.
    expect(rows.length).toBeGreaterThan(seconds * 15);
    expect(rows.filter(({ source, hash }) => hash !== original[source % 90])).toEqual([]);
    // Frame n of the sample is what due n shows: it is presented half a period before.
    const inStep = rows.filter(({ n, source }) => n === source).length;
    expect(inStep).toBeGreaterThan(rows.length * 0.8);
  }
  const pictureAt = new Map(filed(once, as).map(({ n, hash }) => [n, hash]));
  const both = filed(again, as).filter(({ n }) => pictureAt.has(n));
  expect(both.filter(({ n, hash }) => pictureAt.get(n) === hash).length).toBeGreaterThan(both.length * 0.7);
}
