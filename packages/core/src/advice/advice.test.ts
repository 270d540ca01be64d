import * as fc from 'fast-check';
import { recipeSchema, type Recipe } from '@mellow/model';
import { wren } from '../machine';
import { forecastOf, tightest, type ForecastContext } from '../forecast';
import { testContext } from '../forecast/testContext.test-support';
import { anyRecipe } from '../recipe/anyRecipe.test-support';
import { changedSettings, quietReason, recipeClashes, settingFacts, type SettingKey } from '../recipe';
import { adviceFor, goodShare, reliefFor, rules } from './index';
import { cases } from './ruleCases.test-support';
import { encode, type Case } from './ruleCaseParts.test-support';

const adviceIds = ([change, ...changes]: Case): string[] => {
  const context = testContext(change);
  const recipe = changes.reduce((r, with_) => with_(r), context.start);
  return adviceFor(recipe, context).map((a) => a.id);
};

/** All that they say: a name of the code in it would be read by a person. */
const adviceTexts = ([change, ...changes]: Case): string[] => {
  const context = testContext(change);
  const recipe = changes.reduce((r, with_) => with_(r), context.start);
  return adviceFor(recipe, context).flatMap(({ title, text, remedies }) => [
    title,
    text,
    ...remedies.map((one) => one.label),
  ]);
};

describe('the rules', () => {
  it('are at least forty, each with its own name and a pair of cases', () => {
    expect(rules.length).toBeGreaterThanOrEqual(40);
    expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length);
    expect(Object.keys(cases).sort()).toEqual(rules.map((r) => r.id).sort());
  });
  it('have nothing worse than a note on a good setup', () => {
    const context = testContext();
    expect(
      adviceFor(context.start, context)
        .filter((a) => a.weight !== 'note')
        .map((a) => a.id),
    ).toEqual([]);
  });
  it.each(Object.entries(cases))('%s fires, and is quiet beside it', (id, { fires, quiet }) => {
    expect(adviceIds(fires)).toContain(id);
    for (const text of adviceTexts(fires)) expect(text).not.toMatch(/undefined|NaN|null|\b(?!kB|kHz|dBFS)[a-z]+[A-Z]/);
    expect(adviceIds(quiet ?? [{}])).not.toContain(id);
  });
});

describe('remedies', () => {
  const contexts = [
    testContext(),
    testContext({ context: { machine: wren } }),
    testContext({ brief: { purpose: 'slow-motion', editor: 'old' } }),
    testContext({ brief: { purpose: 'master' }, game: { widthPx: 2560, heightPx: 1440 } }),
    testContext({
      brief: { destination: 'broadcaster', mainsHz: 50, matters: ['small-files', 'picture', 'game', 'safety'] },
      facts: { motion: 'calm', driveId: null },
    }),
  ];
  const offers = (recipe: Recipe, context: ForecastContext) => [
    ...adviceFor(recipe, context).flatMap((a) =>
      a.remedies.flatMap((r) => (r.recipe ? [{ from: a.id, recipe: r.recipe }] : [])),
    ),
    ...reliefFor(recipe, context)
      .slice(0, 1)
      .flatMap((s) => (s.recipe ? [{ from: `relief: ${s.label}`, recipe: s.recipe }] : [])),
  ];
  it('never bring about their own reverse, whatever the recipe', () => {
    fc.assert(
      fc.property(anyRecipe, fc.constantFrom(...contexts), (recipe, context) => {
        for (const first of offers(recipe, context)) {
          for (const second of offers(first.recipe, context)) {
            if (changedSettings(recipe, second.recipe).length === 0)
              throw new Error(`${first.from}, then ${second.from}, is a circle`);
          }
        }
      }),
      { numRuns: 60, seed: 4 },
    );
  });
  it('settle what they were offered for, and fit the schema', () => {
    fc.assert(
      fc.property(anyRecipe, fc.constantFrom(...contexts), (recipe, context) => {
        for (const advice of adviceFor(recipe, context)) {
          for (const remedy of advice.remedies) {
            if (!remedy.recipe) continue;
            expect(recipeSchema.safeParse(remedy.recipe).success).toBe(true);
            if (advice.weight === 'stops')
              expect(
                adviceFor(remedy.recipe, context).find((a) => a.id === advice.id && a.title === advice.title),
              ).toBeUndefined();
          }
        }
      }),
      { numRuns: 60, seed: 8 },
    );
  });
  it('never touch a locked setting', () => {
    const keys: SettingKey[] = ['quality', 'size', 'encoder', 'effort', 'rate', 'container'];
    fc.assert(
      fc.property(anyRecipe, fc.subarray(keys, { minLength: 1 }), (recipe, locks) => {
        const context = { ...testContext(), locks };
        for (const { recipe: changed } of offers(recipe, context))
          for (const key of locks) expect(settingFacts[key].words(changed)).toBe(settingFacts[key].words(recipe));
      }),
      { numRuns: 60, seed: 2 },
    );
  });
  it('carry the forecast that the screen would show', () => {
    const context = testContext();
    const [advice] = adviceFor({ ...context.start, encode: { ...context.start.encode, quality: 6 } }, context);
    const remedy = advice!.remedies[0]!;
    expect(remedy.after).toEqual(forecastOf(remedy.recipe!, context));
  });
});

describe('when the machine struggles', () => {
  const context = testContext({ context: { machine: { ...wren, cores: 2 } } });
  const heavy: Recipe = {
    ...context.start,
    driveId: 'kestrel-attic',
    encode: { ...context.start.encode, encoder: 'avc-software', effort: 'thorough' },
  };
  const steps = reliefFor(heavy, context);
  it('the steps come in the order of practice and stop where the forecast is good', () => {
    expect(steps.length).toBeGreaterThan(1);
    const order = ['File 1', 'Quality', 'Effort', 'File 30', 'The card'];
    const places = steps.filter((s) => s.recipe).map((s) => order.findIndex((o) => s.label.startsWith(o)));
    expect([...places]).toEqual(places.toSorted((a, b) => a - b));
    const last = steps.at(-1)!;
    expect(last.after ? tightest(last.after)!.share : 0).toBeLessThanOrEqual(goodShare);
    for (const step of steps.slice(0, -1))
      expect(step.after ? tightest(step.after)!.share : 1).toBeGreaterThan(goodShare);
  });
  it('nothing is lowered where all is well', () => {
    const good = testContext();
    expect(reliefFor(good.start, good)).toEqual([]);
  });
  it('ends at the game’s own graphics where the recipe has nothing left', () => {
    const hopeless = { ...context, machine: { ...context.machine!, coreSpeed: { ...wren.coreSpeed, value: 0.05 } } };
    expect(reliefFor(heavy, hopeless).at(-1)?.instruction).toMatch(/graphics|shadows/);
  });
});

describe('settings without effect', () => {
  const { game, start } = testContext();
  it.each<[SettingKey, (r: Recipe) => Recipe, RegExp]>([
    ['filter', (r) => r, /another size/],
    ['fit', (r) => r, /another/],
    ['quality', encode({ rateControl: 'constant-bitrate' }), /constant quality/],
    ['ceiling', (r) => r, /variable bitrate/],
    ['keyDistance', encode({ encoder: 'utvideo-software' }), /by itself/],
    ['bFrames', encode({ encoder: 'hevc-card' }), /none/],
    ['effort', encode({ encoder: 'ffv1-software' }), /one effort/],
    ['threads', (r) => r, /no threads/],
    ['range', encode({ encoder: 'mjpeg-software' }), /standard/],
    ['rewrap', (r) => ({ ...r, container: 'mp4' }), /already/],
  ])('%s says so, and what would give it one', (key, change, text) =>
    expect(quietReason(key, change(start), game)).toMatch(text),
  );
  it('the others say nothing', () => {
    const scaled = { ...start, size: { ...start.size, widthPx: 1280, heightPx: 720 } };
    expect(quietReason('filter', scaled, game)).toBeNull();
    expect(quietReason('quality', start, game)).toBeNull();
    expect(recipeClashes(start)).toEqual([]);
  });
});
