import type { Recipe } from '@mellow/model';
import type { Forecast, ForecastContext } from '../forecast';
import { foretoldOf, type Simulated } from './foretold';
import { judge, type Judgement, type Quantities } from './judge';

/** Every limit of the brief, judged by what is foretold of a recipe, and by what was measured of it. */
export function judgeRecipe(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  simulated: Simulated | null,
  /** What a trial of this very recipe found, which goes before what is foretold. */
  measured: Quantities = {},
): Judgement[] {
  return judge(
    { brief: context.brief, recipe, game: context.game },
    { ...foretoldOf(recipe, context, forecast, simulated), ...measured },
  );
}
