import { bitsPerPixel, forecastRate } from '@mellow/core';
import type { RateProbe, Recipe } from '@mellow/model';
import { openTakeBench, type MadeTake, type TakeBench } from './support/drivenTake';
import { probePictures } from './support/probe';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

const frames = 300;
const make = (quality: number, part: Partial<Recipe['encode']>): Promise<MadeTake> =>
  bench.make({
    game: { widthPx: 640, heightPx: 360, strip: false },
    recipe: { lanes: [] },
    size: { widthPx: 640, heightPx: 360 },
    encode: { quality, ...part },
    order: { dueFrames: frames },
  });

/** Sizes as ffprobe counts them. */
function probeOf({ order, result }: MadeTake): RateProbe {
  const { recipe } = order;
  const bytes = probePictures(result.filePath).reduce((sum, p) => sum + p.bytes, 0);
  const fps = recipe.rate.num / recipe.rate.den;
  return {
    trial: 1,
    encode: recipe.encode,
    widthPx: 640,
    heightPx: 360,
    fps,
    seconds: frames / fps,
    bitsPerPixel: bitsPerPixel((bytes * 8 * fps) / frames, 640, 360, recipe.rate),
  };
}

describe('the rate model', () => {
  it.each<[string, Partial<Recipe['encode']>]>([
    ['lightest', { effort: 'lightest' }],
    ['light', { effort: 'light' }],
  ])('between two probes at effort %s is within 10 % of the same 300 frames encoded', async (_, part) => {
    const probes = [probeOf(await make(18, part)), probeOf(await make(28, part))];
    for (const quality of [20, 23, 26]) {
      const take = await make(quality, part);
      const found = probeOf(take).bitsPerPixel;
      const { bitsPerPixel: forecast } = forecastRate(take.order.recipe, probes, {
        motion: 0.6,
        detail: 0.4,
        known: true,
        kind: 'paper-comets',
      });
      expect(forecast.value / found).toBeGreaterThan(0.9);
      expect(forecast.value / found).toBeLessThan(1.1);
      expect(forecast.origin).toBe('fitted');
    }
  });
  it('has the truth in its wide range before any probe, and a narrower one after', async () => {
    const take = await make(23, { effort: 'lightest' });
    const found = probeOf(take).bitsPerPixel;
    const before = forecastRate(take.order.recipe, [], {
      motion: 0.6,
      detail: 0.4,
      known: true,
      kind: 'paper-comets',
    }).bitsPerPixel;
    const after = forecastRate(take.order.recipe, [probeOf(await make(28, { effort: 'lightest' }))], {
      motion: 0.6,
      detail: 0.4,
      known: true,
      kind: 'paper-comets',
    }).bitsPerPixel;
    expect(found).toBeGreaterThan(before.low);
    expect(found).toBeLessThan(before.high);
    expect(after.high / after.low).toBeLessThan((before.high / before.low) * 0.75);
  });
});
