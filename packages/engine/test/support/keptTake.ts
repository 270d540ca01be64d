import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { encoderFacts, picturesToKeep, withEncoder } from '@mellow/core';
import { ledgerNames, runMediaJob } from '@mellow/engine';
import {
  encoders,
  likenessSchema,
  unpacedSchema,
  type EncoderName,
  type Likeness,
  type PixelKind,
  type Recipe,
} from '@mellow/model';
import type { MadeTake, TakeBench, TakeChange } from './drivenTake';

/** Takes whose pictures are kept, and how they are held against what their encoder was given. */
export const keptSize = { widthPx: 320, heightPx: 180 };
export const softwareEncoders = encoders.filter((name) => encoderFacts[name].place === 'software');

export function makeKept(
  bench: TakeBench,
  encoder: EncoderName,
  part: Partial<Recipe['encode']> = {},
  rest: TakeChange = {},
): Promise<MadeTake> {
  const base = bench.orderOf({ encode: part }).recipe;
  const { encode, container } = withEncoder({ ...base, encode: { ...base.encode, ...part } }, encoder);
  return bench.make({
    ...rest,
    recipe: { container, ...rest.recipe },
    size: { ...keptSize, ...rest.size },
    encode: { ...encode, ...part, encoder },
    order: { dueFrames: 150, keepPictures: true, ...rest.order },
  });
}

export const keptOf = ({ order }: MadeTake): string => join(order.ledgerFolder, ledgerNames.kept);

export async function compared(take: MadeTake, keptPath = keptOf(take)): Promise<Likeness | null> {
  const { recipe } = take.order;
  const { widthPx, heightPx } = recipe.size;
  const fileOffsetUs = take.result.fileOffsetUs ?? 0;
  const job = { kind: 'compare-kept' as const, keptPath, filePath: take.result.filePath, widthPx, heightPx };
  return likenessSchema.nullable().parse(await runMediaJob({ ...job, rate: recipe.rate, fileOffsetUs }));
}

/** Numbers of the kept frames, from the file they lie in. */
function keptNumbers(take: MadeTake): number[] {
  const bytes = readFileSync(keptOf(take));
  const each = 4 + take.order.recipe.size.widthPx * take.order.recipe.size.heightPx;
  return Array.from({ length: bytes.length / each }, (_, i) => bytes.readUInt32LE(i * each));
}

/** Luma SSIM of each picture by FFmpeg's filter of that name, of one file against another with as many pictures. */
function ssimByFilter(path: string, reference: string): number[] {
  const told = execFileSync('ffmpeg', [
    ...['-cpuflags', '0', '-v', 'quiet', '-i', path, '-i', reference],
    ...[
      '-lavfi',
      '[0:v]extractplanes=y,settb=1/1000,setpts=N[a];[1:v]extractplanes=y,settb=1/1000,setpts=N[b];[a][b]ssim=stats_file=-',
    ],
    ...['-f', 'null', '/dev/null'],
  ]).toString();
  return [...told.matchAll(/Y:([\d.]+)/g)].map((match) => Number(match[1]));
}

export type SsimCase = readonly [EncoderName, Partial<Recipe['encode']>, TakeChange];

/** SSIM as FFmpeg's filter finds it, against a lossless take of the same frames. */
export async function expectAsFilterFinds(bench: TakeBench, [encoder, part, rest]: SsimCase): Promise<void> {
  const take = await makeKept(bench, encoder, part, rest);
  const twin = await makeKept(
    bench,
    'ffv1-software',
    {},
    { ...rest, recipe: { ...rest.recipe, container: 'matroska' } },
  );
  const found = await compared(take);
  const byFilter = ssimByFilter(take.result.filePath, twin.result.filePath);
  expect(byFilter).toHaveLength(150);
  const kept = keptNumbers(take);
  expect(found?.pictures).toBe(kept.length);
  const mean = (values: number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  expect(found?.ssim).toBeCloseTo(mean(kept.map((n) => byFilter[n]!)), 3);
  const { num, den } = take.order.recipe.rate;
  const bySecond: number[][] = [];
  for (const n of kept) (bySecond[Math.floor((n * den) / num)] ??= []).push(byFilter[n]!);
  const worst = Math.min(...bySecond.map(mean));
  expect(found?.worstSecondSsim).toBeCloseTo(worst, 3);
  expect(found?.exact).toBe(false);
}

/** Of a lossless take every compared sample is the same. */
export async function expectExact(bench: TakeBench, encoder: EncoderName, pixels: PixelKind): Promise<void> {
  const take = await makeKept(bench, encoder, { rateControl: 'lossless', pixels });
  const expected = picturesToKeep(150, take.order.recipe.rate, keptSize.widthPx * keptSize.heightPx);
  expect(await compared(take)).toMatchObject({ exact: true, ssim: 1, worstSecondSsim: 1, pictures: expected });
}

/** An encoder is timed without a clock on frames of its own file. */
export async function expectTimed(bench: TakeBench, encoder: EncoderName): Promise<void> {
  const take = await makeKept(bench, encoder, encoderFacts[encoder].mostBFrames ? { bFrames: 2 } : {});
  const job = { kind: 'encode-unpaced' as const, filePath: take.result.filePath, recipe: take.order.recipe };
  const found = unpacedSchema.parse(await runMediaJob({ ...job, frames: 60, atUs: 500_000 }));
  expect(found.frames).toBe(60);
  expect(found.clockUs).toBeGreaterThan(0);
  expect(found.processorUs).toBeGreaterThan(0);
}
