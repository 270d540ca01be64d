import type { Recipe } from '@mellow/model';
import {
  arrowsBetween,
  forecastDifferences,
  forecastOf,
  originText,
  outlookOf,
  playCostOf,
  type ArrowName,
} from './index';
import { goodRecipe, testContext } from './testContext.test-support';

const context = testContext();
const recipe = goodRecipe(context.game, context.brief);
const seed = 11;
const withEncode = (part: Partial<Recipe['encode']>): Recipe => ({ ...recipe, encode: { ...recipe.encode, ...part } });
const outlook = (own: Recipe) => outlookOf(own, context, seed, 2);
const arrow = (name: ArrowName, own: Recipe) =>
  arrowsBetween(outlook(recipe), outlook(own)).find((a) => a.name === name)!;

describe('the four arrows', () => {
  it('are always four, in one order, and point nowhere for the recipe itself', () => {
    const same = arrowsBetween(outlook(recipe), outlook(recipe));
    expect(same.map((a) => a.name)).toEqual(['picture', 'size', 'play cost', 'misses']);
    expect(same.every((a) => a.direction === 0 && a.good === null)).toBe(true);
    expect(same.slice(1).map((a) => a.text)).toEqual(['same', 'same', 'same']);
  });
  it('of a finer quality point up for picture and size, good and bad', () => {
    expect(arrow('picture', withEncode({ quality: 14 }))).toMatchObject({ direction: 1, good: true });
    const size = arrow('size', withEncode({ quality: 14 }));
    expect(size).toMatchObject({ direction: 1, good: false });
    expect(size.text).toMatch(/^\+[\d.]+ GB\/h$/);
  });
  it('of a coarser one point the other way, by the same amount back', () => {
    const coarse = withEncode({ quality: 26 });
    const there = arrowsBetween(outlook(recipe), outlook(coarse)).find((a) => a.name === 'size')!;
    const back = arrowsBetween(outlook(coarse), outlook(recipe)).find((a) => a.name === 'size')!;
    expect(there.direction).toBe(-1);
    expect(back.direction).toBe(1);
    expect(back.text.replace('+', '')).toBe(there.text.replace('−', ''));
  });
  it('name the exact picture of a lossless codec', () => {
    const lossless: Recipe = {
      ...withEncode({ encoder: 'utvideo-software', rateControl: 'lossless' }),
      container: 'matroska',
    };
    expect(arrow('picture', lossless)).toMatchObject({ direction: 1, text: 'exact' });
  });
  it('show misses and play cost where the encoder cannot keep up', () => {
    const heavy = withEncode({ encoder: 'hevc-software', effort: 'most-thorough' });
    expect(arrow('misses', heavy)).toMatchObject({ direction: 1, good: false });
    expect(arrow('misses', heavy).text).toMatch(/ \/min$/);
  });
  it('use the same draws on both sides: what costs the game nothing shows nothing', () => {
    expect(arrow('play cost', { ...recipe, rewrap: true })).toMatchObject({ direction: 0, text: 'same' });
    expect(arrow('misses', { ...recipe, rewrap: true }).direction).toBe(0);
  });
});

describe('play cost', () => {
  const run = (meanFps: number, onePercentLowFps: number | null) => ({
    seconds: 8,
    frames: 800,
    meanFps,
    onePercentLowFps,
    slowestMs: [],
    blocks: [],
    turnBlocks: [],
  });
  it('is 1 - with / without, for mean and 1 % low (common practice)', () => {
    const cost = playCostOf({ without: run(124, 91), with: run(117, 80) });
    expect(cost.mean).toBeCloseTo(0.0565, 3);
    expect(cost.low).toBeCloseTo(0.1209, 3);
  });
  it('has no low where one of both is not known, and no mean of nothing', () => {
    expect(playCostOf({ without: run(124, null), with: run(117, 80) }).low).toBeNull();
    expect(playCostOf({ without: run(0, null), with: run(0, null) }).mean).toBe(0);
  });
});

describe('differences of two forecasts in words', () => {
  const words = (own: Recipe) => forecastDifferences(forecastOf(recipe, context), forecastOf(own, context));
  it('are none for the recipe itself', () => expect(words(recipe)).toEqual([]));
  it('name size, load, picture and safety where they change', () => {
    expect(words(withEncode({ quality: 28 })).join(', ')).toMatch(/^[\d.]+ to [\d.]+ GB\/h.*picture .* to /);
    expect(words(withEncode({ effort: 'most-thorough' })).join(', ')).toMatch(/Encode \d+ % to \d+ % of its budget/);
    expect(words(withEncode({ lowDelay: true })).join(', ')).toMatch(/if the recorder dies [\d.]+ s to [\d.]+ s lost/);
  });
  it('leave out what does not change', () => {
    expect(words({ ...recipe, container: 'mp4' }).join(', ')).not.toMatch(/GB\/h|Encode|picture/);
  });
});

it('a figure’s origin is said once', () => {
  expect(originText({ origin: 'measured', from: 'measured in trial 4' })).toBe('measured in trial 4');
  expect(originText({ origin: 'typical', from: 'for such a scene' })).toBe('typical: for such a scene');
});
