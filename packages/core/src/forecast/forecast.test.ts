import * as fc from 'fast-check';
import { noCalibration, stationNames, type Recipe, type Take } from '@mellow/model';
import { laneBits, lanesBits } from '../codec';
import { testLedger } from '../ledger/testLedger.test-support';
import { anyRecipe } from '../recipe/anyRecipe.test-support';
import { kestrel } from '../machine';
import { containerOverheadBits } from '../storage';
import { testRecipe, testTake } from '../verdict/testTake.test-support';
import {
  arrowsBetween,
  calibrationOf,
  errorOf,
  forecastDifferences,
  forecastOf,
  outlookOf,
  predictionFor,
  secondsLostIfKilled,
  shownPassages,
  tightest,
  usualError,
} from './index';
import { goodRecipe, testContext } from './testContext.test-support';

const context = testContext();
const sound = lanesBits(testRecipe.lanes, testRecipe.sounds).value;
const trial = testTake(testLedger({ num: 60, den: 1 }, Array(600).fill('new')));
const encode = (change: Partial<typeof testRecipe.encode>) => ({
  ...testRecipe,
  encode: { ...testRecipe.encode, ...change },
});
const withTrials = (...trials: Take[]) => ({ ...context, calibration: calibrationOf(trials) });

describe('the forecast of size', () => {
  it('takes a set bitrate as it is, sound added per lane (PCM 48 kHz 16 bit stereo: 1 536 kb/s)', () => {
    expect(laneBits({ codec: 'pcm', bitrateKbps: 320, sources: ['game'] }, testRecipe.sounds).value).toBe(1_536_000);
    const recipe = encode({ rateControl: 'constant-bitrate', bitrateKbps: 9000 });
    expect(forecastOf(recipe, context).bits.value).toBeCloseTo(9e6 + sound + containerOverheadBits(recipe), 0);
  });
  it('has a wide range before a trial, a narrow one after it, and a narrower one after three', () => {
    // FLAC has a range of its own that no picture narrows.
    const silent = { ...testRecipe, lanes: [] };
    const wide = (f: ReturnType<typeof forecastOf>) => f.bits.high / f.bits.low;
    const before = forecastOf(silent, context);
    const one = forecastOf(silent, withTrials(trial));
    const three = forecastOf(silent, withTrials(trial, { ...trial, number: 2 }, { ...trial, number: 3 }));
    expect(before.bits.origin).toBe('typical');
    expect(wide(before)).toBeGreaterThan(1.9);
    expect(one.bits.origin).toBe('fitted');
    expect(wide(one)).toBeLessThan(1.6);
    expect(wide(three)).toBeLessThan(wide(one));
  });
  it('gives a trial’s own recipe about the size that trial had', () => {
    const measured = (2.5e6 * 8) / 10;
    expect(forecastOf(testRecipe, withTrials(trial)).pictureBits / measured).toBeGreaterThan(0.88);
    expect(forecastOf(testRecipe, withTrials(trial)).pictureBits / measured).toBeLessThan(1.15);
  });
  it('six steps of quality about halve or double (common practice), and the size falls with every step', () => {
    const at = (quality: number) => forecastOf(encode({ quality }), withTrials(trial)).pictureBits;
    expect(at(26) / at(20)).toBeGreaterThan(0.43);
    expect(at(26) / at(20)).toBeLessThan(0.6);
    for (let q = 1; q <= 51; q++) expect(at(q)).toBeLessThan(at(q - 1));
  });
  it('widens where a trial had another size, effort or encoder', () => {
    const wide = (recipe: typeof testRecipe) => {
      const { bits } = forecastOf({ ...recipe, lanes: [] }, withTrials(trial));
      return bits.high / bits.low;
    };
    expect(wide(encode({ effort: 'middle' }))).toBeGreaterThan(wide(testRecipe) * 1.02);
    expect(wide(encode({ encoder: 'hevc-software' }))).toBeGreaterThan(wide(encode({ effort: 'middle' })));
  });
  it('lossless and picture-by-picture sizes stand within what was measured (bits a pixel, docs/model.md)', () => {
    const perPixel = (recipe: typeof testRecipe) => forecastOf(recipe, context).pictureBits / (1280 * 720 * 60);
    expect(perPixel(encode({ encoder: 'ffv1-software', rateControl: 'lossless' }))).toBeGreaterThan(1.4);
    expect(perPixel(encode({ encoder: 'utvideo-software', rateControl: 'lossless' }))).toBeLessThan(5);
    expect(
      perPixel(encode({ encoder: 'mjpeg-software', rateControl: 'picture-by-picture', quantiser: 4 })) *
        1280 *
        720 *
        60,
    ).toBeGreaterThan(20e6);
  });
  it('every random recipe has a forecast with an ordered range', () => {
    fc.assert(
      fc.property(anyRecipe, (recipe) => {
        const { bits, loads } = forecastOf(recipe, context);
        expect(bits.low).toBeLessThanOrEqual(bits.value);
        expect(bits.value).toBeLessThanOrEqual(bits.high);
        expect(Number.isFinite(bits.value) && bits.value > 0).toBe(true);
        for (const load of Object.values(loads)) if (load) expect(load.busiest).toBeGreaterThanOrEqual(load.usual);
      }),
      { numRuns: 200 },
    );
  });
});

describe('the forecast of loads', () => {
  it('takes loads from an undisturbed trial of the same recipe as measured, and scales them to others', () => {
    const here = { ...withTrials(trial), machine: null };
    const same = forecastOf(testRecipe, here).loads.encode;
    expect(same?.origin).toBe('measured');
    expect(same?.usual).toBeCloseTo(trial.summary!.loads.encode!.usualMs * (2 / 4), 5);
    expect(forecastOf(encode({ effort: 'middle' }), here).loads.encode?.origin).toBe('fitted');
  });
  it('takes no loads from a disturbed trial, and still its size', () => {
    const disturbed = { ...trial, summary: { ...trial.summary!, disturbed: true } };
    const calibration = calibrationOf([disturbed]);
    expect(calibration.loads).toEqual([]);
    expect(calibration.rates).toHaveLength(1);
  });
  it('a newer trial goes before an older one', () => {
    const older = { ...trial, number: 9, createdAt: '2020-01-01T00:00:00Z' };
    expect(calibrationOf([older, trial]).loads.map((l) => l.trial)).toEqual([1, 9]);
  });
  it('an unknown encoder has a range rather than a point', () => {
    const { encode: work } = forecastOf(encode({ encoder: 'av1-card' }), { ...context, machine: null }).work;
    expect(work.origin).toBe('assumed');
    expect(work.high / work.low).toBeGreaterThanOrEqual(4);
  });
  it('names the station that decides', () => {
    expect(
      tightest(
        forecastOf(encode({ effort: 'most-thorough' }), { ...context, machine: { ...context.machine!, cores: 2 } }),
      )?.station,
    ).toBe('encode');
  });
  it('loads grow with effort and pixels', () => {
    const load = (recipe: typeof testRecipe) => forecastOf(recipe, context).loads.encode!.busiest;
    expect(load(encode({ effort: 'thorough' }))).toBeGreaterThan(load(encode({ effort: 'light' })));
    expect(load({ ...testRecipe, size: { ...testRecipe.size, widthPx: 1920, heightPx: 1080 } })).toBeGreaterThan(
      load(testRecipe),
    );
  });
});

describe('safety', () => {
  it('says what a dying recorder costs', () => {
    expect(secondsLostIfKilled(testRecipe, 2)).toBeCloseTo(2 + 4 / 60, 6);
    expect(secondsLostIfKilled({ ...testRecipe, container: 'mp4' }, 2)).toBe(secondsLostIfKilled(testRecipe, 2));
    expect(secondsLostIfKilled(encode({ effort: 'most-thorough' }), 2)).toBeGreaterThan(2.5);
    expect(secondsLostIfKilled(encode({ encoder: 'utvideo-software', rateControl: 'lossless' }), 2)).toBeCloseTo(
      2 + 1 / 60,
      6,
    );
  });
  it('counts a look-ahead that is set, where it has an effect', () => {
    const lost = (part: Partial<Recipe['encode']>): number =>
      secondsLostIfKilled(encode({ effort: 'middle', ...part }), 2)!;
    const own = lost({});
    // Ten pictures are the encoder's own at this effort: thirty more are half a second at 60 fps.
    expect(lost({ lookAheadFrames: 40 }) - own).toBeCloseTo(30 / 60, 6);
    expect(lost({ lookAheadFrames: 0 })).toBeLessThan(own);
    expect(lost({ lookAheadFrames: 40, lowDelay: true })).toBe(lost({ lowDelay: true }));
    expect(lost({ effort: 'lightest', lookAheadFrames: 40 })).toBe(lost({ effort: 'lightest' }));
    expect(lost({ encoder: 'vp9-software', lookAheadFrames: 24 }) - lost({ encoder: 'vp9-software' })).toBeCloseTo(
      0.4,
      6,
    );
  });
});

describe('what a change would do', () => {
  const seed = 11;
  it('the arrows point the way the figures go', () => {
    const now = outlookOf(testRecipe, context, seed, 2);
    const finer = arrowsBetween(now, outlookOf(encode({ quality: 16 }), context, seed, 2));
    expect(finer.find((a) => a.name === 'picture')).toMatchObject({ direction: 1, good: true });
    expect(finer.find((a) => a.name === 'size')).toMatchObject({ direction: 1, good: false });
    expect(arrowsBetween(now, now).every((a) => a.direction === 0)).toBe(true);
  });
  it('is told in words', () => {
    const words = forecastDifferences(
      forecastOf(testRecipe, context),
      forecastOf({ ...encode({ quality: 30 }), container: 'mp4' }, context),
    );
    expect(words.join('; ')).toMatch(/GB\/h/);
    expect(words.join('; ')).toMatch(/picture cannot be told apart to soft/);
  });
});

describe('predicted against found', () => {
  it('is kept with a take as ratios, and told as a usual error from two trials on', () => {
    const prediction = predictionFor(testRecipe, context, 3, shownPassages, '2026-11-25T00:00:00Z');
    const found = errorOf({ ...trial, prediction });
    expect(found?.bitsRatio).toBeCloseTo((3e6 * 8) / 10 / prediction.bitsPerSecond!.value, 6);
    expect(found?.encodeRatio).toBeCloseTo(trial.summary!.loads.encode!.busiestMs / prediction.busiestMs['encode']!, 6);
    expect(errorOf(trial)).toBeNull();
    expect(usualError([1.1])).toBeNull();
    expect(usualError([1.1, 1 / 1.1, null])).toBeCloseTo(0.1, 6);
    expect(noCalibration.errors).toEqual([]);
  });
});

describe('a simulated machine', () => {
  const loads = (machine: typeof kestrel): string[] => {
    const context = testContext({ context: { machine } });
    const recipe = goodRecipe(context.game, context.brief);
    const stations = {
      game: null,
      capture: { usualMs: 1, busiestMs: 1.5 },
      size: null,
      encode: { usualMs: 4, busiestMs: 6 },
      pack: { usualMs: 0.5, busiestMs: 0.7 },
      drive: null,
    };
    const load = {
      trial: 2,
      recipe,
      gameSize: { widthPx: 1920, heightPx: 1080 },
      cores: 8,
      stations,
      gameProcessorUs: null,
      gameFpsWithout: null,
      othersCores: 0,
    };
    const forecast = forecastOf(recipe, {
      ...context,
      calibration: { rates: [], errors: [], madeOn: null, loads: [load] },
    });
    return stationNames.flatMap((name) =>
      forecast.loads[name] ? [`${forecast.loads[name].origin}: ${forecast.loads[name].from}`] : [],
    );
  };
  it('never has a load that is called measured, whatever its trials gave', () => {
    expect(
      loads({ ...kestrel, origin: 'measured' }).filter((text) => text.includes('measured in trial 2')),
    ).toHaveLength(3);
    expect(loads(kestrel).join(' ')).not.toMatch(/measured/);
    expect(loads(kestrel).filter((text) => text === 'assumed: simulated in trial 2')).toHaveLength(3);
  });
});
