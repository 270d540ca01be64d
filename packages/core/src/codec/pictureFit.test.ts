import * as fc from 'fast-check';
import type { RateProbe, Recipe } from '@mellow/model';
import { plainPracticeGame, startRecipe } from '../recipe';
import { framesPerSecond } from '../units';
import { forecastPicture, forecastRate, perPixel, withEncoder, type SceneKnowledge } from './index';

const scene: SceneKnowledge = { motion: 0.5, detail: 0.8, known: true, kind: 'tin-cathedral' };
const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
const withEncode = (part: Partial<Recipe['encode']>): Recipe => ({ ...start, encode: { ...start.encode, ...part } });
const probeOf = (recipe: Recipe, ssim: number | null, change: Partial<RateProbe> = {}): RateProbe => ({
  trial: 3,
  encode: recipe.encode,
  widthPx: recipe.size.widthPx,
  heightPx: recipe.size.heightPx,
  fps: framesPerSecond(recipe.rate),
  seconds: 10,
  bitsPerPixel: 0.1,
  shares: null,
  likeness: ssim === null ? null : { ssim, standIn: false },
  ...change,
});
const forecast = (recipe: Recipe, probes: RateProbe[] = []) =>
  forecastPicture(recipe, null, forecastRate(recipe, probes, scene), scene, probes).ssim!;
const width = (recipe: Recipe, probes: RateProbe[] = []): number => {
  const { low, high } = forecast(recipe, probes);
  return Math.log2((1 - low) / (1 - high));
};

describe('the picture of a forecast after trials', () => {
  it('is typical before any, measured after one of the same picture, carried over after one of another', () => {
    const recipe = withEncode({ quality: 22 });
    expect(forecast(recipe)).toMatchObject({ origin: 'typical' });
    expect(forecast(recipe, [probeOf(recipe, null)])).toEqual(forecast(recipe));
    expect(forecast(recipe, [probeOf(recipe, 0.97)])).toMatchObject({
      origin: 'measured',
      from: 'measured in trial 3',
    });
    expect(forecast(recipe, [probeOf(withEncode({ quality: 26 }), 0.95)])).toMatchObject({ origin: 'fitted' });
    expect(forecast(recipe, [probeOf(recipe, 0.97, { widthPx: 640 })])).toMatchObject({ origin: 'fitted' });
    expect(forecast(recipe, [probeOf(recipe, 0.97, { fps: 30 })])).toMatchObject({ origin: 'fitted' });
    const standIn = probeOf(recipe, 0.97, { likeness: { ssim: 0.97, standIn: true } });
    expect(forecast(recipe, [standIn])).toMatchObject({ origin: 'fitted' });
    expect(forecast(recipe, [standIn]).from).toContain('stand-in');
  });
  it('comes near what was measured, nearer with each trial, with a range that narrows', () => {
    const recipe = withEncode({ quality: 22 });
    const probes = Array.from({ length: 6 }, (_, i) => probeOf(recipe, 0.93, { trial: i + 1 }));
    const values = probes.map((_, i) => forecast(recipe, probes.slice(0, i + 1)));
    values.forEach(({ low, high }) => {
      expect(low).toBeLessThan(0.93);
      expect(high).toBeGreaterThan(0.93);
    });
    expect(Math.abs(values[5]!.value - 0.93)).toBeLessThan(Math.abs(values[0]!.value - 0.93));
    expect(values[5]!.value).toBeCloseTo(0.93, 2);
    expect(width(recipe, probes)).toBeLessThan(width(recipe, probes.slice(0, 1)));
    expect(width(recipe, probes.slice(0, 1))).toBeLessThan(width(recipe));
  });
  it('stays in order of the quality number and moves towards what a trial found, whatever that is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.7, max: 0.9995, noNaN: true }),
        fc.integer({ min: 12, max: 34 }),
        (ssim, quality) => {
          const probe = probeOf(withEncode({ quality }), ssim);
          const at = (q: number): number => forecast(withEncode({ quality: q }), [probe]).value;
          expect(at(18)).toBeGreaterThan(at(28));
          const [before, after] = [forecast(withEncode({ quality })).value, at(quality)];
          expect(Math.abs(after - ssim)).toBeLessThanOrEqual(Math.abs(before - ssim) + 1e-9);
        },
      ),
      { numRuns: 200 },
    );
  });
  it('a set bitrate learns from a trial of the same encoder and effort, by the bits it came to', () => {
    const set = withEncode({ rateControl: 'variable-bitrate', bitrateKbps: 4000, ceilingKbps: 8000 });
    const bits = perPixel(4e6, set);
    const probe = probeOf(set, 0.9, { bitsPerPixel: bits });
    const of = (probes: RateProbe[]) => forecastPicture(set, bits, forecastRate(set, [], scene), scene, probes).ssim!;
    expect(Math.abs(of([probe]).value - 0.9)).toBeLessThan(Math.abs(of([]).value - 0.9));
    expect(of([probe]).origin).toBe('measured');
    const otherEffort = { ...probe, encode: { ...probe.encode, effort: 'thorough' as const } };
    expect(of([otherEffort]).origin).toBe('typical');
  });
  it('Motion JPEG learns by its quantiser, lossless needs nothing', () => {
    const jpeg = withEncoder(start, 'mjpeg-software');
    expect(forecast(jpeg, [probeOf(jpeg, 0.9)]).value).toBeLessThan(forecast(jpeg).value);
    const exact = withEncode({ rateControl: 'lossless' });
    expect(forecastPicture(exact, null, forecastRate(exact, [], scene), scene, []).word).toBe('exact');
  });
});
