import * as fc from 'fast-check';
import { efforts, encoders, type EncoderName, type Recipe } from '@mellow/model';
import { encoderFacts, withEncoder } from '../codec';
import { kestrel, unprovenSheet, wren } from '../machine';
import {
  forecastOf,
  pathParametersOf,
  playCostOf,
  predictMisses,
  recorderUse,
  sharingFigures,
  simulateStrip,
  slowdown,
  stationWork,
} from './index';
import { testContext } from './testContext.test-support';

const context = testContext({ game: { capFps: null } });
const recipeOf = (encoder: EncoderName, part: Partial<Recipe['encode']> = {}, own: Partial<Recipe> = {}): Recipe => {
  const base = withEncoder(context.start, encoder);
  return { ...base, ...own, encode: { ...base.encode, bFrames: 0, threads: 0, ...part } };
};
const costOf = (recipe: Recipe, here = context): number =>
  playCostOf(simulateStrip(recipe, here, forecastOf(recipe, here), 7, [{ kind: 'busy', seconds: 6 }]).play).mean;

describe('play cost', () => {
  it('of a block is a few per cent, of software on many cores more, and of software that takes all cores tens of per cent', () => {
    const block = costOf(recipeOf('avc-card'));
    expect(block).toBeGreaterThan(0.005);
    expect(block).toBeLessThan(0.04);
    const software = costOf(recipeOf('avc-software', { effort: 'thorough' }));
    expect(software).toBeGreaterThan(block);
    const twoCores = { ...context, machine: { ...kestrel, cores: 2 } };
    expect(costOf(recipeOf('av1-software', { effort: 'light' }), twoCores)).toBeGreaterThan(0.2);
  });
  it('of a block is never dearer than software that keeps a core and more busy', () => {
    for (const encoder of ['avc-software', 'hevc-software', 'av1-software'] as const)
      for (const effort of efforts) {
        const recipe = recipeOf(encoder, { effort });
        if (recorderUse(recipe, context, stationWork(recipe, context)).cores < 1) continue;
        expect([encoder, effort, costOf(recipe) >= costOf(recipeOf('avc-card'))]).toEqual([encoder, effort, true]);
      }
  });
  it('rises with effort, with size and with rate, for every encoder', () => {
    const values = { perCore: 0.02, perBlock: 0.05, perMegapixelGrab: 0.004 };
    fc.assert(
      fc.property(
        fc.constantFrom(...encoders),
        fc.constantFrom(...efforts.slice(0, -1)),
        // Scaled all of them: a picture that is not scaled may cost less than a smaller one that is.
        fc.constantFrom(360, 480, 640),
        fc.constantFrom(24, 30, 60, 120),
        fc.constantFrom(1, 2, 4, 8, 16),
        (encoder, effort, lines, fps, cores) => {
          const here = { ...context, machine: { ...kestrel, cores } };
          const size = (l: number) => ({ ...context.start.size, widthPx: Math.round((l * 16) / 18) * 2, heightPx: l });
          const of = (recipe: Recipe) => slowdown(recorderUse(recipe, here, stationWork(recipe, here)), values);
          const plain = of(recipeOf(encoder, { effort }, { size: size(lines), rate: { num: fps, den: 1 } }));
          const others = [
            recipeOf(
              encoder,
              { effort: efforts[efforts.indexOf(effort) + 1]! },
              { size: size(lines), rate: { num: fps, den: 1 } },
            ),
            recipeOf(encoder, { effort }, { size: size(lines * 1.5), rate: { num: fps, den: 1 } }),
            recipeOf(encoder, { effort }, { size: size(lines), rate: { num: fps * 2, den: 1 } }),
          ].map(of);
          for (const other of others) {
            expect(other.processor).toBeGreaterThanOrEqual(plain.processor - 1e-12);
            expect(other.graphics).toBeGreaterThanOrEqual(plain.graphics - 1e-12);
          }
          // A higher rate always hands more over.
          expect(others[2]!.graphics).toBeGreaterThan(plain.graphics);
        },
      ),
      { numRuns: 300 },
    );
  });
  it('rises in the simulation too, from the lightest to the most thorough effort', () => {
    const costs = efforts.map((effort) => costOf(recipeOf('avc-software', { effort })));
    costs.slice(1).forEach((cost, i) => expect(cost).toBeGreaterThan(costs[i]! - 0.002));
    expect(costs.at(-1)!).toBeGreaterThan(costs[0]! + 0.01);
  });
  it('is never nothing on a PC whose graphics are not known, for no encoder that works anywhere', () => {
    const { name, cores, processor, memoryBytes, system } = wren;
    const here = {
      ...context,
      machine: unprovenSheet({ name, cores, processor, memoryBytes, system, origin: 'measured' }, 'this'),
    };
    expect(here.machine.graphics).toBeNull();
    for (const encoder of encoders) {
      const recipe = recipeOf(encoder);
      const { playCost } = predictMisses(recipe, here, forecastOf(recipe, here), 3, 6);
      expect(playCost.value).toBeGreaterThan(0.001);
      expect(playCost.high).toBeGreaterThan(playCost.low);
    }
  });
  it('waits for the helpers: a game with helpers suffers more where cores are few', () => {
    const cores2 = {
      ...testContext({ game: { capFps: null, extraLoadUs: 3000 } }),
      machine: { ...wren, graphics: null, cores: 2 },
    };
    const helped = { ...cores2, game: { ...cores2.game, helpers: 2, helperLoadUs: 6000 } };
    const recipe = recipeOf(
      'avc-software',
      { effort: 'light' },
      { size: { ...context.start.size, widthPx: 1280, heightPx: 720 } },
    );
    const fps = (here: typeof helped) =>
      simulateStrip(recipe, here, forecastOf(recipe, here), 7, [{ kind: 'calm', seconds: 6 }]).play.with.meanFps;
    expect(fps(helped)).toBeLessThan(fps(cores2));
  });
  it('has ranges for what is shared, each with its origin', () => {
    for (const figure of Object.values(sharingFigures)) {
      expect(figure.low).toBeLessThan(figure.value);
      expect(figure.high).toBeGreaterThan(figure.value);
      expect(figure.origin).toBe('assumed');
    }
  });
});

describe('misses that are foretold', () => {
  const slowDrive = (bytesPerSecond: number) => ({
    ...context,
    drives: context.drives.map((drive) => ({ ...drive, writeBytesPerSecond: bytesPerSecond })),
  });
  const lossless = recipeOf('utvideo-software', { rateControl: 'lossless' });
  const misses = (bytesPerSecond: number) => {
    const here = slowDrive(bytesPerSecond);
    return predictMisses(lossless, here, forecastOf(lossless, here), 11, 6);
  };
  it('know that a drive which is too slow for the mean fills its buffer, however large that is', () => {
    const need = forecastOf(lossless, context).bits.value / 8;
    const foretold = misses(need * 0.9);
    // D/D/1 in the long run: one byte in ten finds no room, so about one frame in ten of 3 600.
    expect(foretold.byStation.drive).toBeGreaterThan(200);
    expect(misses(need * 4).missesPerMinute.value).toBeLessThan(foretold.missesPerMinute.value);
  });
  it('know that a drive of a byte a second keeps nothing', () => {
    const all = framesAMinute(lossless);
    expect(misses(1).missesPerMinute.value).toBeGreaterThan(all * 0.85);
  });
  it('say none only where the machine is proven and every load is far below its budget', () => {
    const light = recipeOf('avc-card');
    const of = (here: typeof context) => predictMisses(light, here, forecastOf(light, here), 5, 6).missesPerMinute;
    const unproven = {
      ...context,
      machine: { ...kestrel, encoders: kestrel.encoders.map((e) => ({ ...e, workUsPerMegapixel: null })) },
    };
    expect(of(unproven).high).toBeGreaterThan(0);
    expect(of(context).high).toBe(0);
  });
  it('have a range that holds what is not known of the work, not only chance', () => {
    const width = (wide: number): number => {
      const machine = {
        ...kestrel,
        encoders: kestrel.encoders.map((e) =>
          e.encoder === 'avc-card'
            ? {
                ...e,
                workUsPerMegapixel: {
                  value: 7000,
                  low: 7000 / wide,
                  high: 7000 * wide,
                  origin: 'assumed' as const,
                  from: 'x',
                },
              }
            : e,
        ),
      };
      const here = { ...context, machine };
      const recipe = recipeOf('avc-card', { effort: 'lightest' });
      const { low, high } = predictMisses(recipe, here, forecastOf(recipe, here), 5, 12).missesPerMinute;
      return high - low;
    };
    expect(width(1.6)).toBeGreaterThan(width(1.01) + 50);
  });
});

const framesAMinute = ({ rate }: Recipe): number => (60 * rate.num) / rate.den;

describe('a block', () => {
  it('varies little: its busiest second is near its usual one, unlike software', () => {
    const ratio = (encoder: EncoderName): number => {
      const load = forecastOf(recipeOf(encoder), context).loads.encode!;
      return load.busiest / load.usual;
    };
    for (const encoder of encoders)
      if (encoderFacts[encoder].place === 'software') expect(ratio(encoder)).toBeGreaterThan(1.15);
      else expect(ratio(encoder)).toBeLessThan(1.08);
  });
  it('has the same draws of everything else as software: the game alone is the same', () => {
    const alone = (encoder: EncoderName) => {
      const recipe = recipeOf(encoder);
      const { game } = pathParametersOf(recipe, context, forecastOf(recipe, context), 5);
      return [game.processor, game.helpers, game.graphicsUs];
    };
    expect(alone('avc-card')).toEqual(alone('avc-software'));
  });
});

it('a drive whose speed nobody measured leaves misses possible', () => {
  const unmeasured = {
    ...context,
    drives: context.drives.map((drive) => ({ ...drive, writeBytesPerSecond: null })),
  };
  const recipe = recipeOf('avc-card');
  expect(predictMisses(recipe, unmeasured, forecastOf(recipe, unmeasured), 5, 4).missesPerMinute.high).toBeGreaterThan(
    0,
  );
});
