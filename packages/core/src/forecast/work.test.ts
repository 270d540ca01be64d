import { noCalibration, type Calibration, type Recipe } from '@mellow/model';
import {
  effortFactor,
  encodeWorkUs,
  equalQuality,
  forecastPicture,
  forecastRate,
  qualityWord,
  typicalSsim,
} from '../codec';
import { kestrel, unprovenSheet, wren } from '../machine';
import { sizeWorkUs } from './sizeWork';
import { heldFrames, forecastOf, sceneOf, sceneShares, scenesOf, stationWork, tightest } from './index';
import { encodeParallelism, gameWorkOf } from './gameWork';
import { goodRecipe, testContext } from './testContext.test-support';

const { name, cores, processor, memoryBytes, system } = wren;
const here = { ...unprovenSheet({ name, cores, processor, memoryBytes, system, origin: 'measured' }, 'this') };
const context = testContext();
const recipe = goodRecipe(context.game, context.brief);
const software = (part: Partial<Recipe['encode']> = {}): Recipe => ({
  ...recipe,
  encode: { ...recipe.encode, encoder: 'avc-software', effort: 'lightest', ...part },
});
const trial = (part: Partial<Calibration['loads'][number]>, own: Recipe): Calibration => ({
  ...noCalibration,
  loads: [
    {
      trial: 4,
      recipe: own,
      gameSize: { widthPx: 1920, heightPx: 1080 },
      cores: 4,
      stations: { game: null, capture: null, size: null, encode: null, pack: null, drive: null },
      gameProcessorUs: null,
      gameFpsWithout: null,
      othersCores: 0.1,
      ...part,
    },
  ],
});

describe('work of the encoder, in order of trust', () => {
  it('is the table’s with a wide range where nothing was tried, and narrower for a machine that was', () => {
    const typical = encodeWorkUs(software(), here);
    expect(typical.origin).toBe('typical');
    expect(typical.value).toBeCloseTo(4700 * 2.0736 ** 0.95, 6);
    expect(typical.high / typical.low).toBeCloseTo(4, 6);
    const proven = {
      ...here,
      encoders: [
        {
          encoder: 'avc-software' as const,
          works: true,
          reason: null,
          byEffort: { lightest: 8000, light: 20_000 },
          workUsPerMegapixel: {
            value: 8000,
            low: 7000,
            high: 10_000,
            origin: 'measured' as const,
            from: 'test encode',
          },
        },
      ],
    };
    expect(encodeWorkUs(software(), proven)).toMatchObject({ origin: 'measured', value: 8000 * 2.0736 ** 0.95 });
    // The measured step from lightest to light goes before the ladder's.
    expect(encodeWorkUs(software({ effort: 'light' }), proven).value).toBeCloseTo(20_000 * 2.0736 ** 0.95, 3);
    expect(encodeWorkUs(software({ effort: 'middle' }), proven).value).toBeCloseTo(8000 * 2.2 * 2.0736 ** 0.95, 3);
  });
  it('comes from a trial where there is one: its own figure for its own recipe, scaled by pixels and effort for another', () => {
    const stations = {
      game: null,
      capture: null,
      size: null,
      encode: { usualMs: 5, busiestMs: 7 },
      pack: null,
      drive: null,
    };
    const calibration = trial({ stations }, software());
    const own = stationWork(software(), { ...context, machine: here, calibration });
    expect(own.encode).toMatchObject({ value: 5000 * 4, origin: 'measured', from: 'measured in trial 4' });
    const light = stationWork(software({ effort: 'light' }), { ...context, machine: here, calibration });
    expect(light.encode.value).toBeCloseTo(20_000 * 1.75, 3);
    expect(light.encode.origin).toBe('fitted');
    expect(light.encode.high / light.encode.low).toBeGreaterThan(own.encode.high / own.encode.low);
    // A trial with another encoder says nothing.
    expect(stationWork(recipe, { ...context, calibration }).encode.from).not.toContain('trial');
  });
  it('grows with effort at every place, and a block of its own has no cores', () => {
    for (const encoder of ['avc-software', 'av1-software', 'avc-card'] as const) {
      const factors = (['lightest', 'light', 'middle', 'thorough', 'most-thorough'] as const).map((effort) =>
        effortFactor(encoder, effort),
      );
      expect(factors).toEqual([...factors].sort((a, b) => a - b));
    }
    expect(effortFactor('ffv1-software', 'thorough')).toBe(1);
    expect(stationWork(recipe, context).parallelism).toBeNull();
    expect([
      encodeParallelism(software(), 8),
      encodeParallelism(software({ threads: 2 }), 8),
      encodeParallelism(software({ encoder: 'utvideo-software' }), 8),
      encodeParallelism(software({ threads: 12 }), 4),
    ]).toEqual([8, 2, 4, 4]);
  });
});

describe('work of the game', () => {
  it('of a card-bound one follows from its rate without a cap', () => {
    const work = gameWorkOf(testContext({ facts: { freeFps: 100 } }));
    expect(work).toMatchObject({ graphicsUs: 10_000, processorUs: { value: 6500, origin: 'fitted' } });
    expect(work.helpers).toEqual({ meanUs: 10_000, parallelism: 3 });
  });
  it('that is not known has a wide range and says which trial settles it', () => {
    const { processorUs } = gameWorkOf(testContext({ facts: { freeFps: null } }));
    expect(processorUs.origin).toBe('assumed');
    expect(processorUs.from).toMatch(/trial without a cap settles it/);
    const known = gameWorkOf(testContext()).processorUs;
    expect(processorUs.high / processorUs.low).toBeGreaterThan(1.5 * (known.high / known.low));
  });
  it('on a PC without known graphics comes from a trial’s processor time, by pixels', () => {
    const calibration = trial({ gameProcessorUs: 3000, gameSize: { widthPx: 1920, heightPx: 1080 } }, recipe);
    expect(gameWorkOf({ ...context, machine: here, calibration }).processorUs).toMatchObject({
      value: 3000,
      origin: 'measured',
    });
    const half = { ...context.game, widthPx: 960, heightPx: 540 };
    expect(gameWorkOf({ ...context, game: half, machine: here, calibration }).processorUs).toMatchObject({
      value: 750,
      origin: 'fitted',
    });
    expect(gameWorkOf({ ...context, machine: kestrel, calibration }).processorUs.value).not.toBe(3000);
  });
});

describe('scenes', () => {
  it('shares make a whole, and "I do not know" is a middling scene that is not called known', () => {
    for (const motion of ['calm', 'middling', 'fast', null] as const) {
      const { calm, busy, loading } = sceneShares(testContext({ facts: { motion } }).game);
      expect(calm + busy + loading).toBeCloseTo(1, 9);
      expect(sceneOf(testContext({ facts: { motion } }).game).known).toBe(motion !== null);
    }
  });
  it('stand still for half of loading and never elsewhere', () => {
    const { stalls, seconds } = scenesOf(
      [
        { kind: 'calm', seconds: 3 },
        { kind: 'loading', seconds: 1.4 },
      ],
      'paper-comets',
      { calm: 0.4, busy: 0.4, loading: 0.2 },
    );
    expect(seconds).toBeCloseTo(4.4, 9);
    expect(stalls).toEqual([
      [3_350_000, 3_700_000],
      [4_050_000, 4_400_000],
    ]);
  });
  it('not known widen the forecast of size', () => {
    const range = (motion: 'fast' | null): number => {
      const { bits } = forecastOf(recipe, testContext({ facts: { motion } }));
      return bits.high / bits.low;
    };
    expect(range(null)).toBeGreaterThan(range('fast') * 1.2);
    expect(forecastOf(recipe, testContext({ facts: { motion: null } })).bits.from).toMatch(/a trial settles it/);
  });
});

describe('what the encoder keeps, and which station decides', () => {
  it('is look-ahead, B-frames and threads in software, little in a block, nothing with low delay', () => {
    // As counted: 130 frames given without a clock, the most that were inside at once (threads, look-ahead, B-frames).
    expect(heldFrames(software(), 2)).toBe(4);
    expect(heldFrames(software({ threads: 8, bFrames: 2 }), 2)).toBe(13);
    expect(heldFrames(software({ threads: 1 }), 2)).toBe(1);
    expect(heldFrames(software({ effort: 'middle', threads: 4, bFrames: 2 }), 2)).toBe(17);
    expect(heldFrames(software({ effort: 'most-thorough', threads: 16 }), 2)).toBe(57);
    expect(heldFrames(software({ encoder: 'hevc-software' }), 2)).toBe(8);
    expect(heldFrames(software({ encoder: 'hevc-software', effort: 'middle', threads: 4, bFrames: 2 }), 2)).toBe(23);
    expect(heldFrames(software({ encoder: 'hevc-software', effort: 'most-thorough', threads: 16 }), 2)).toBe(38);
    expect(heldFrames(software({ encoder: 'av1-software' }), 2)).toBe(27);
    expect(heldFrames(software({ effort: 'middle', bFrames: 0, lowDelay: true }), 8)).toBe(0);
    expect(heldFrames({ ...recipe, encode: { ...recipe.encode, encoder: 'avc-card', bFrames: 2 } }, 8)).toBe(4);
    expect(heldFrames(software({ encoder: 'ffv1-software' }), 8)).toBe(1);
  });
  it('is the one nearest to its budget, the game left out', () => {
    const heavy = forecastOf(software({ effort: 'most-thorough' }), { ...context, machine: wren });
    expect(tightest(heavy)).toMatchObject({ station: 'encode' });
    expect(tightest(heavy)!.share).toBeGreaterThan(1);
  });
});

describe('size of the picture', () => {
  it('falls by half in 4 to 7 steps before any probe (measured: 3 to 8, by scene), and never with a better number', () => {
    const at = (quality: number) =>
      forecastRate(software({ quality }), [], { motion: 0.6, detail: 0.4, known: true, kind: null }).bitsPerPixel.value;
    expect(at(18) / at(24)).toBeGreaterThan(1.8);
    expect(at(18) / at(24)).toBeLessThan(2.8);
    for (let q = 10; q < 40; q++) expect(at(q)).toBeGreaterThan(at(q + 1));
  });
  it('of lossless and picture-by-picture codecs is a range of what was measured', () => {
    const lossless = forecastRate(software({ encoder: 'utvideo-software', rateControl: 'lossless' }), [], {
      motion: 0.6,
      detail: 0.4,
      known: true,
      kind: null,
    }).bitsPerPixel;
    expect([lossless.low, lossless.high]).toEqual([2, 7]);
    const at = (quantiser: number) =>
      forecastRate(software({ encoder: 'mjpeg-software', rateControl: 'picture-by-picture', quantiser }), [], {
        motion: 0.6,
        detail: 0.4,
        known: true,
        kind: null,
      }).bitsPerPixel.value;
    expect(at(2)).toBeGreaterThan(at(4));
    expect(at(4)).toBeGreaterThan(at(13));
  });
  it('is worked on in proportion to pixels read and written, and by filter', () => {
    const scaled = (filter: Recipe['size']['filter'], heightPx: number) =>
      sizeWorkUs(
        { widthPx: 2560, heightPx: 1440 },
        { ...recipe, size: { ...recipe.size, widthPx: (heightPx * 16) / 9, heightPx, filter } },
        1,
      );
    expect(scaled('lanczos', 1080)).toBeGreaterThan(scaled('bilinear', 1080));
    expect(scaled('lanczos', 1080)).toBeGreaterThan(scaled('lanczos', 720));
  });
  it('is converted where the source’s pixels are not the file’s, scaled or not', () => {
    const game = { widthPx: 1920, heightPx: 1080 };
    const whole: Recipe = { ...recipe, size: { ...recipe.size, ...game, filter: 'bicubic' } };
    const screen: Recipe = {
      ...whole,
      source: { ...{ kind: 'display', name: 'A', pointer: true, leftPx: 0, topPx: 0 }, ...game },
    };
    const as = (from: Recipe, part: Partial<Recipe['encode']>) =>
      sizeWorkUs(game, { ...from, encode: { ...from.encode, ...part } }, 1);
    expect(as(whole, {})).toBe(0);
    // A screen of 1080 lines was converted in 2.2 to 3.5 ms here; by the library's filters it took 9 to 14.
    expect(as(screen, {})).toBeGreaterThan(2000);
    expect(as(screen, {})).toBeLessThan(3500);
    expect(as(screen, { pixels: 'rgb' })).toBeLessThan(as(screen, {}));
    expect(as(whole, { pixels: 'rgb' })).toBeGreaterThan(as(whole, { range: 'full' }));
    expect(as(whole, { range: 'full' })).toBeGreaterThan(as(whole, { pixels: '4:2:0-10' }));
  });
});

describe('the picture', () => {
  const flat = { motion: 0.6, detail: 0.4, known: true, kind: 'paper-comets' as const };
  const wordsOf = (qualities: number[], own: Recipe, scene = flat) =>
    qualities.map((q) => qualityWord(typicalSsim(own, q, scene)));
  it('gets coarser with the number and with the scene', () => {
    expect(wordsOf([14, 20, 23, 32, 40], software({ effort: 'light' }))).toEqual([
      'cannot be told apart',
      'cannot be told apart',
      'cannot be told apart',
      'soft',
      'blocky',
    ]);
    const dense = { motion: 0.5, detail: 0.8, known: true, kind: 'tin-cathedral' as const };
    for (let q = 10; q < 40; q++)
      expect(typicalSsim(software(), q, dense)).toBeLessThan(typicalSsim(software(), q, flat));
  });
  // Numbers of two encoders mean different things: measured SSIM at 20 was 0.989 (AVC), 0.944 (HEVC) on a textured corridor, and so here.
  it('numbers map between encoders by equal SSIM, and back', () => {
    for (const q of [16, 20, 24, 28]) {
      const hevc = equalQuality(q, 'avc-software', 'hevc-software');
      expect(hevc).toBeLessThan(q);
      expect(equalQuality(hevc, 'hevc-software', 'avc-software')).toBeCloseTo(q, 1);
      expect(equalQuality(q, 'avc-software', 'avc-software')).toBeCloseTo(q, 1);
    }
    // AV1's scale ends at 63; by the rows its 18 keeps as much of grain as AVC's 20 does.
    expect(equalQuality(20, 'avc-software', 'av1-software')).toBeGreaterThan(14);
    expect(equalQuality(30, 'avc-software', 'av1-software')).toBeGreaterThan(30);
    expect(equalQuality(7, 'mjpeg-software', 'avc-software')).toBe(7);
  });
  it('of a set bitrate is that of the number which needs as many bits, by the same table of words', () => {
    const scene = flat;
    for (const encoder of ['avc-software', 'hevc-software', 'av1-software', 'avc-card'] as const) {
      const own = software({ encoder, effort: 'light', quality: 26, rateControl: 'constant-quality' });
      const rate = forecastRate(own, [], scene);
      const bySetRate = forecastPicture(own, rate.bitsPerPixel.value, rate, scene);
      expect(bySetRate.quality).toBeCloseTo(26, 1);
      expect(bySetRate.ssim!.value).toBeCloseTo(forecastPicture(own, null, rate, scene).ssim!.value, 4);
      expect(forecastPicture(own, rate.bitsPerPixel.value / 4, rate, scene).ssim!.value).toBeLessThan(
        bySetRate.ssim!.value,
      );
    }
  });
});
