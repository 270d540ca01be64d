import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { efforts, practiceScenes, type EncoderName, type Recipe } from '@mellow/model';
import { z } from 'zod';
import { plainPracticeGame, startRecipe } from '../recipe';
import { effortOffsets, measuredCurves, onCurve } from './rateTables';
import { forecastPicture, forecastRate, withEncoder } from './index';

/** The tables against the rows they were made from: what the encoders really made of the three scenes. */
const rowSchema = z.object({
  scene: z.enum(practiceScenes),
  passage: z.enum(['calm', 'busy']),
  encoder: z.enum([
    'avc-software',
    'hevc-software',
    'av1-software',
    'ffv1-software',
    'utvideo-software',
    'mjpeg-software',
  ]),
  effort: z.enum(efforts),
  rateControl: z.enum(['constant-quality', 'lossless', 'picture-by-picture']),
  quality: z.number(),
  widthPx: z.number(),
  heightPx: z.number(),
  fps: z.number(),
  bitsPerPixel: z.number(),
  ssim: z.number().nullable(),
});
type Row = z.infer<typeof rowSchema>;
const rows: Row[] = readFileSync(join(__dirname, '../../../../bench/fit/rows.jsonl'), 'utf8')
  .split('\n')
  .filter(Boolean)
  .map((line) => rowSchema.parse(JSON.parse(line)));

/** Calm and busy rows of one order, with the means of both. */
interface Pair extends Row {
  bits: number;
  loss: number | null;
}
const pairs: Pair[] = rows
  .filter((row) => row.passage === 'calm')
  .flatMap((calm) => {
    const { scene, encoder, effort, rateControl, quality, widthPx, fps } = calm;
    const busy = rows.find(
      (row) =>
        row.passage === 'busy' &&
        row.scene === scene &&
        row.encoder === encoder &&
        row.effort === effort &&
        row.rateControl === rateControl &&
        row.quality === quality &&
        row.widthPx === widthPx &&
        row.fps === fps,
    );
    if (!busy) return [];
    const bits = Math.log2((calm.bitsPerPixel + busy.bitsPerPixel) / 2);
    const loss = calm.ssim !== null && busy.ssim !== null ? Math.log2(1 - (calm.ssim + busy.ssim) / 2) : null;
    return [{ ...calm, bits, loss }];
  });
const plainPairs = pairs.filter((p) => p.rateControl === 'constant-quality' && p.widthPx === 1280 && p.fps === 60);
const software = ['avc-software', 'hevc-software', 'av1-software'] as const;

function recipeOf(pair: Pair): Recipe {
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
  const base = withEncoder({ ...start, lanes: [] }, pair.encoder as EncoderName);
  return {
    ...base,
    rate: { num: pair.fps, den: 1 },
    size: { ...base.size, widthPx: pair.widthPx, heightPx: pair.heightPx },
    encode: {
      ...base.encode,
      effort: pair.effort,
      quality: pair.quality,
      quantiser: Math.max(1, pair.quality),
      rateControl: pair.rateControl,
      bFrames: 0,
      keyDistanceFrames: pair.fps * 2,
    },
  };
}
const looks = {
  'paper-comets': { motion: 0.6, detail: 0.4 },
  'harrow-vale': { motion: 0.25, detail: 0.4 },
  'tin-cathedral': { motion: 0.5, detail: 0.8 },
} as const;
const sceneOf = (pair: Pair, kind: boolean) => ({ ...looks[pair.scene], known: true, kind: kind ? pair.scene : null });

describe('the measured curves', () => {
  it('are the rows’ means to the second decimal', () => {
    for (const encoder of software)
      for (const scene of practiceScenes)
        for (const knot of measuredCurves[encoder][scene]) {
          const pair = plainPairs.find(
            (p) => p.encoder === encoder && p.scene === scene && p.effort === 'light' && p.quality === knot.quality,
          );
          expect(Math.abs((pair?.bits ?? NaN) - knot.bits)).toBeLessThan(0.011);
          expect(Math.abs((pair?.loss ?? NaN) - knot.loss)).toBeLessThan(0.011);
        }
  });
  it('fall in size and rise in loss with each number', () => {
    for (const encoder of software)
      for (const scene of practiceScenes)
        for (let q = 10; q < 51; q++) {
          const points = measuredCurves[encoder][scene];
          expect(onCurve(points, q + 1, 'bits')).toBeLessThan(onCurve(points, q, 'bits'));
          expect(onCurve(points, q + 1, 'loss')).toBeGreaterThan(onCurve(points, q, 'loss'));
        }
  });
  it('go through their knots and straight on beyond them', () => {
    const points = measuredCurves['avc-software']['paper-comets'];
    for (const knot of points) expect(onCurve(points, knot.quality, 'bits')).toBeCloseTo(knot.bits, 12);
    const slope = (points[3]!.bits - points[2]!.bits) / 6;
    expect(onCurve(points, 38, 'bits')).toBeCloseTo(points[3]!.bits + 6 * slope, 12);
    expect(onCurve(points, 8, 'loss')).toBeLessThan(points[0]!.loss);
  });
});

describe('the offsets of effort', () => {
  it('are the rows’ mean differences from light, within a tenth of a step of log2', () => {
    for (const encoder of software)
      for (const effort of ['lightest', 'middle'] as const) {
        const differences = plainPairs
          .filter((p) => p.encoder === encoder && p.effort === effort)
          .flatMap((p) => {
            const light = plainPairs.find(
              (l) => l.encoder === encoder && l.scene === p.scene && l.quality === p.quality && l.effort === 'light',
            );
            return light ? [p.bits - light.bits] : [];
          });
        const mean = differences.reduce((sum, d) => sum + d, 0) / differences.length;
        expect(differences.length).toBeGreaterThanOrEqual(6);
        expect(Math.abs(mean - effortOffsets[encoder][effort].bits)).toBeLessThan(0.12);
      }
  });
});

describe('the forecast before any trial', () => {
  const inside = (pair: Pair, kind: boolean): boolean => {
    const { low, high } = forecastRate(recipeOf(pair), [], sceneOf(pair, kind)).bitsPerPixel;
    // A forecast is of play with loading in it, which is nearly nothing; the rows have none.
    return low <= 2 ** pair.bits && 2 ** pair.bits <= high;
  };
  const share = (list: readonly Pair[], kind: boolean): number =>
    list.filter((pair) => inside(pair, kind)).length / list.length;
  const all = pairs.filter((pair) => pair.rateControl === 'constant-quality');
  it('holds at least 80 % of what was found where the kind of scene is known, at every size, rate and effort', () => {
    expect(all.length).toBeGreaterThan(100);
    expect(share(all, true)).toBeGreaterThan(0.8);
  });
  it('and where nothing is known but that it is a game: 65 % and more, none of the scenes left out', () => {
    expect(share(all, false)).toBeGreaterThan(0.65);
    for (const scene of practiceScenes)
      expect(
        share(
          all.filter((pair) => pair.scene === scene),
          false,
        ),
      ).toBeGreaterThan(0.4);
  });
  it('holds lossless and picture-by-picture sizes', () => {
    const others = pairs.filter((pair) => pair.rateControl !== 'constant-quality');
    expect(others.length).toBeGreaterThan(20);
    expect(share(others, true)).toBeGreaterThan(0.8);
  });
  it('holds SSIM within its range in 80 % and more', () => {
    const held = all.filter((pair) => {
      if (pair.loss === null) return false;
      const recipe = recipeOf(pair);
      const scene = sceneOf(pair, true);
      const { ssim } = forecastPicture(recipe, null, forecastRate(recipe, [], scene), scene);
      const found = 1 - 2 ** pair.loss;
      return ssim !== null && ssim.low <= found && found <= ssim.high;
    });
    expect(held.length / all.length).toBeGreaterThan(0.8);
  });
});
