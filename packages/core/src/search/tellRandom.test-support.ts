import fc from 'fast-check';
import { concerns, editors, limitNames, purposes, type Recipe } from '@mellow/model';
import { readyLines } from '../advice';
import { forecastOf, predictMisses, type ForecastContext } from '../forecast';
import { testContext } from '../forecast/testContext.test-support';
import { judgeRecipe } from '../judge';
import { kestrel, wren } from '../machine';
import { recipeClashes } from '../recipe';
import { anyRecipe } from '../recipe/anyRecipe.test-support';
import { standInFacts } from '../storage';
import { judgeAndMend } from './firstStep';

/** What went wrong with one random recipe; none where nothing did. */
export interface Wrong {
  recipe: Recipe;
  what: string;
}

const seeds = 6;
const judged = (recipe: Recipe, context: ForecastContext) => {
  const forecast = forecastOf(recipe, context);
  const predicted = predictMisses(recipe, context, forecast, 5, seeds);
  return { forecast, predicted, ...judgeAndMend(recipe, { context, seed: 5, seeds }, forecast, predicted) };
};

/** Random recipes on random machines and briefs: what is said of each must hold by the very forecast it is said of. */
function wrongWith(recipe: Recipe, context: ForecastContext): string[] {
  const { first, judged: limits, forecast } = judged(recipe, context);
  const wrong: string[] = [];
  const beyond = limits.filter((one) => one.beyond).map(({ limit }) => limit);
  if (!first && beyond.length) wrong.push(`nothing has to change beside ${beyond.join(', ')}`);
  if (first && (first.recipe === null) !== (first.label === null)) wrong.push('a button without a recipe');
  const isLimit = first && (limitNames as readonly string[]).includes(first.id);
  if (first && isLimit && first.recipe) {
    const after = judged(first.recipe, context);
    const still = after.judged.find(({ limit }) => limit === first.id);
    if (still?.beyond) wrong.push(`"${first.title}" does not mend ${first.id}: ${still.found}`);
    const fresh = after.judged.filter((one) => one.beyond && !beyond.includes(one.limit));
    if (fresh.length) wrong.push(`"${first.title}" breaks ${fresh.map(({ limit }) => limit).join(', ')}`);
    if (recipeClashes(first.recipe).some(({ weight }) => weight === 'stops'))
      wrong.push(`"${first.title}" stops a take`);
  }
  // Ready says the same of what it looks at.
  const seen = judgeRecipe(recipe, context, forecast, null);
  const lines = new Map(readyLines(recipe, context, forecast, null, null, null).map((line) => [line.id, line.fine]));
  for (const [id, limit] of [
    ['room', 'room'],
    ['speed', 'drive-rate'],
    ['safe', 'if-it-dies'],
    ['game', 'repeats'],
  ] as const) {
    const one = seen.find((judgement) => judgement.limit === limit);
    if (one && (lines.get(id) === false) !== one.beyond) wrong.push(`Ready and Path differ over ${limit}`);
  }
  return wrong;
}

const contexts = fc
  .record({
    machine: fc.constantFrom(kestrel, wren),
    purpose: fc.constantFrom(...purposes),
    editor: fc.constantFrom(...editors),
    matters: fc.shuffledSubarray([...concerns], { minLength: concerns.length }),
    freeFps: fc.constantFrom(null, 40, 59, 90, 150, 300),
    capFps: fc.constantFrom(null, 60, 144),
    lines: fc.constantFrom(720, 1080, 1440),
  })
  .map(({ machine, purpose, editor, matters, freeFps, capFps, lines }) =>
    testContext({
      brief: { purpose, editor, matters },
      game: { capFps, widthPx: (lines * 16) / 9, heightPx: lines },
      facts: { freeFps },
      context: { machine, drives: machine.drives.map(standInFacts) },
    }),
  );

// What a recipe of random settings may have is limited to what can be recorded and is no larger than a display.
const recipes = anyRecipe.filter(
  (recipe) =>
    recipe.size.widthPx <= 2560 &&
    recipe.rate.num / recipe.rate.den <= 240 &&
    !recipeClashes(recipe).some(({ weight }) => weight === 'stops'),
);
const wrong: Wrong[] = fc.sample(fc.tuple(recipes, contexts), { numRuns: 15, seed: 3 }).flatMap(([recipe, context]) => {
  const placed = { ...recipe, driveId: context.drives[0]?.id ?? 'none' };
  return wrongWith(placed, context).map((what) => ({ recipe: placed, what }));
});
console.log(JSON.stringify(wrong));
