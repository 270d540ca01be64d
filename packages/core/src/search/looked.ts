import type { Recipe } from '@mellow/model';
import {
  forecastOf,
  lossesOf,
  pathParametersOf,
  predictMisses,
  sharingFigures,
  shareLost,
  spreadsOf,
  type Forecast,
  type ForecastContext,
  type Guess,
  type SharingValues,
} from '../forecast';
import { exactly, judgeRecipe, type Judgement, type Simulated } from '../judge';
import { simulateGameAlone, simulatePath } from '../path';

/** A recipe with what is foretold of it and how that is judged. */
export interface Looked {
  recipe: Recipe;
  forecast: Forecast;
  simulated: Simulated | null;
  judged: Judgement[];
}

/** Without a simulation: what it tells is not known. */
export function lookAtLoads(recipe: Recipe, context: ForecastContext): Looked {
  const forecast = forecastOf(recipe, context);
  return { recipe, forecast, simulated: null, judged: judgeRecipe(recipe, context, forecast, null) };
}

/** As the page shows it: with as many draws as there. */
export function lookThoroughly(
  { recipe, forecast }: Looked,
  context: ForecastContext,
  seed: number,
  seeds: number,
): Looked {
  const simulated = predictMisses(recipe, context, forecast, seed, seeds);
  return { recipe, forecast, simulated, judged: judgeRecipe(recipe, context, forecast, simulated) };
}

/** Where many draws show nothing, four seconds at the worse end still tell which neighbour is nearer to it. */
const leastFactor = 0.02;
const quickPassage = [{ kind: 'busy' as const, seconds: 4 }];

/** Everything at its worse end of 10 to 90 %: what holds there holds in most draws. */
function worseEnd(forecast: Forecast): Guess {
  const { game, size, encode, bits, driveSpeed } = spreadsOf(forecast);
  const sharing = Object.fromEntries(
    Object.entries(sharingFigures).map(([name, { high }]) => [name, high]),
  ) as SharingValues;
  return {
    ...{ game: game.high, size: size.high, encode: encode.high },
    ...{ bits: bits.high, driveSpeed: driveSpeed.low, sharing },
  };
}

/** What many draws show against what four seconds at the worse end do: factors that are much alike for neighbours. */
export interface QuickFactors {
  misses: number;
  cost: number;
}

/** Four busy seconds at the worse end of everything, times factors: enough to tell neighbours apart, in a millisecond or two. */
export function lookQuickly(
  { recipe, forecast }: Looked,
  context: ForecastContext,
  seed: number,
  factors: QuickFactors = { misses: 1, cost: 1 },
): Looked {
  const parameters = pathParametersOf(recipe, context, forecast, seed, quickPassage, worseEnd(forecast));
  const run = simulatePath(parameters);
  const byStation = lossesOf(run.columns);
  const perMinute = (Object.values(byStation).reduce((sum, n) => sum + n, 0) * 60e6) / run.endUs;
  const simulated = {
    missesPerMinute: exactly(perMinute * factors.misses),
    playCost: exactly(shareLost(simulateGameAlone(parameters), run.presentsUs) * factors.cost),
    byStation,
  };
  return { recipe, forecast, simulated, judged: judgeRecipe(recipe, context, forecast, simulated) };
}

/** The factors that make a quick look at a recipe agree with a thorough one. */
export function factorsBetween(thorough: Looked, quick: Looked): QuickFactors {
  const of = (figure: 'missesPerMinute' | 'playCost'): number => {
    const [many, four] = [thorough.simulated?.[figure].value ?? 0, quick.simulated?.[figure].value ?? 0];
    return four > 0 ? Math.min(1, Math.max(leastFactor, many / four)) : 1;
  };
  return { misses: of('missesPerMinute'), cost: of('playCost') };
}
