import * as fc from 'fast-check';
import { forecastOf, tightest } from '../forecast';
import { goodRecipe, testContext } from '../forecast/testContext.test-support';
import { wren } from '../machine';
import { anyRecipe } from '../recipe/anyRecipe.test-support';
import { changedSettings } from '../recipe';
import { standInFacts } from '../storage';
import { adviceFor, adviceWeights, goodShare, reliefFor } from './index';

const context = testContext();
const recipe = goodRecipe(context.game, context.brief);
const weak = testContext({
  context: { machine: wren, drives: wren.drives.map(standInFacts) },
  facts: { freeFps: 60, driveId: 'elsewhere' },
});
const heavy = {
  ...recipe,
  driveId: 'wren-disk',
  encode: { ...recipe.encode, encoder: 'avc-software' as const, effort: 'most-thorough' as const, quality: 16 },
};

describe('what advice says', () => {
  it('is in words people read: a title without a full stop, a text that ends with one, no empty remedy', () => {
    fc.assert(
      fc.property(anyRecipe, (any) => {
        for (const advice of adviceFor(any, context)) {
          expect(advice.title).toMatch(/^[\p{Lu}\d“].*[^.]$/u);
          expect(advice.text).toMatch(/[.]$/);
          expect(`${advice.title} ${advice.text}`).not.toMatch(/undefined|NaN|Infinity|null/);
          for (const remedy of advice.remedies) {
            expect(remedy.label.length).toBeGreaterThan(1);
            expect(remedy.label.length).toBeLessThan(48);
            // A remedy acts, or says what a person does; never both and never neither.
            expect((remedy.recipe === null) !== (remedy.instruction === null)).toBe(true);
          }
        }
      }),
      { numRuns: 60 },
    );
  });
  it('stands in the order of its weight, and each rule speaks once', () => {
    fc.assert(
      fc.property(anyRecipe, (any) => {
        const advice = adviceFor(any, context);
        const weights = advice.map((a) => adviceWeights.indexOf(a.weight));
        expect(weights).toEqual([...weights].sort((a, b) => a - b));
        expect(new Set(advice.map((a) => a.id)).size).toBe(advice.length);
      }),
      { numRuns: 60 },
    );
  });
  it('shows for each remedy the forecast of the screen, and every remedy changes something', () => {
    fc.assert(
      fc.property(anyRecipe, (any) => {
        for (const { remedies } of adviceFor(any, context)) {
          for (const remedy of remedies) {
            if (!remedy.recipe) continue;
            expect(changedSettings(any, remedy.recipe).length).toBeGreaterThan(0);
            expect(remedy.after).toEqual(forecastOf(remedy.recipe, context));
          }
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe('relief', () => {
  it('lowers the deciding station with every step, and stops where the forecast is good', () => {
    const steps = reliefFor(heavy, weak);
    expect(steps.length).toBeGreaterThan(1);
    let share = tightest(forecastOf(heavy, weak))?.share ?? 0;
    expect(share).toBeGreaterThan(goodShare);
    for (const step of steps) {
      if (!step.after) continue;
      const next = tightest(step.after)?.share ?? 0;
      expect(next).toBeLessThanOrEqual(share);
      share = next;
    }
    const last = steps.at(-1)!;
    if (last.after) expect(tightest(last.after)!.share).toBeLessThanOrEqual(goodShare);
    else expect(last.instruction).toMatch(/shadows/);
  });
  it('is not offered where nothing struggles', () => expect(reliefFor(recipe, context)).toEqual([]));
  it('leaves locked settings alone, and goes on with the others', () => {
    const locked = { ...weak, locks: ['size', 'rate'] };
    const steps = reliefFor(heavy, locked);
    expect(steps.length).toBeGreaterThan(0);
    for (const step of steps) {
      if (!step.recipe) continue;
      expect(step.recipe.size).toEqual(heavy.size);
      expect(step.recipe.rate).toEqual(heavy.rate);
    }
  });
  it('goes in the order of practice: size, quality, effort, rate, encoder', () => {
    const order = [
      'File \\d+×',
      'Quality',
      'Effort',
      'File [\\d.]+ fps',
      'The card|AVC',
      'One sound lane',
      'Lower the game',
    ];
    const places = reliefFor(heavy, weak).map((step) =>
      order.findIndex((words) => new RegExp(`^(${words})`).test(step.label)),
    );
    expect(places).not.toContain(-1);
    expect(places).toEqual([...places].sort((a, b) => a - b));
  });
});
