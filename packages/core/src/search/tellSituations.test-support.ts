import { forecastOf, predictMisses, type ForecastContext } from '../forecast';
import type { Recipe } from '@mellow/model';
import { recipeClashes } from '../recipe';
import { judgeAndMend, type RecipeJudgement } from './firstStep';
import { situations } from './situations.test-support';

/** What is said of a situation, and of it again once that is done. */
export interface Told {
  name: string;
  first: RecipeJudgement['first'];
  beyond: string[];
  after: { firstId: string | null; beyond: string[]; stops: string[] } | null;
}

const order = (context: ForecastContext) => ({ context, seed: 5, seeds: 20 });
const judged = (recipe: Recipe, context: ForecastContext): RecipeJudgement => {
  const forecast = forecastOf(recipe, context);
  return judgeAndMend(recipe, order(context), forecast, predictMisses(recipe, context, forecast, 5, 20));
};
const beyondOf = (of: RecipeJudgement): string[] => of.judged.filter(({ beyond }) => beyond).map(({ limit }) => limit);

/** The first line of every situation: a process by itself, since a test's sandbox runs the simulation ten times slower. */
const told = situations.map(({ name, recipe, context }): Told => {
  const now = judged(recipe, context);
  const changed = now.first?.recipe;
  const then = changed ? judged(changed, context) : null;
  return {
    name,
    first: now.first,
    beyond: beyondOf(now),
    after: then && {
      firstId: then.first?.id ?? null,
      beyond: beyondOf(then),
      stops: recipeClashes(changed!).flatMap(({ id, weight }) => (weight === 'stops' ? [id] : [])),
    },
  };
});
console.log(JSON.stringify(told));
