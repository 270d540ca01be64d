import { stationNames, type Prediction, type Recipe } from '@mellow/model';
import { sharesOf } from '../codec';
import { simulateGameAlone, simulatePath } from '../path';
import type { ForecastContext } from './context';
import { forecastOf, type Forecast } from './forecast';
import { pathParametersOf, type Passage } from './pathOf';
import { atLeastWhatNobodySaw, lossesOf, rangeOf, shareLost, simulateStrip, spreadsOf, type Range } from './predict';
import { drawGuesses } from './uncertain';

const rangeIn = ({ value, low, high }: Range): Range => ({ value, low, high });

/** Usual load of Encode over the passages that a forecast is of, with the range of its work. */
function usualEncodeMs({ loads, work }: Forecast): Range | null {
  if (!loads.encode || !(work.encode.value > 0)) return null;
  const of = (us: number): number => us / 1000 / (work.parallelism ?? 1);
  return { value: of(work.encode.value), low: of(work.encode.low), high: of(work.encode.high) };
}

/** What is kept with a take before it rolls, with the passages it will go through. */
export function predictionFor(
  recipe: Recipe,
  context: ForecastContext,
  seed: number,
  passages: readonly Passage[],
  madeAt: string,
): Prediction {
  const seconds = passages.reduce((sum, passage) => sum + passage.seconds, 0);
  // Of the very passages that the take goes through, not of an hour of play.
  const ofPassages = { ...context, shares: sharesOf(passages, seconds) };
  const forecast = forecastOf(recipe, ofPassages);
  const seeds = 12;
  const rates: number[] = [];
  const costs: number[] = [];
  for (const [s, guess] of drawGuesses(seed, seeds, spreadsOf(forecast)).entries()) {
    const parameters = pathParametersOf(recipe, ofPassages, forecast, seed + 7919 * s, passages, guess);
    const run = simulatePath(parameters);
    const lost = Object.values(lossesOf(run.columns)).reduce((sum, n) => sum + n, 0);
    costs.push(shareLost(simulateGameAlone(parameters), run.presentsUs));
    rates.push((lost * 60e6) / run.endUs);
  }
  const game = simulateStrip(recipe, ofPassages, forecast, seed, passages).overAll();
  const minutes = (seeds * seconds) / 60;
  const { bits } = forecast;
  return {
    madeAt,
    bitsPerSecond: rangeIn(bits),
    busiestMs: Object.fromEntries(
      stationNames.map((name) => [name, name === 'drive' ? null : (forecast.loads[name]?.busiest ?? null)]),
    ) as Prediction['busiestMs'],
    missesPerMinute: atLeastWhatNobodySaw(rangeOf(rates), context, forecast, minutes),
    encodeMs: usualEncodeMs(forecast),
    ssim: forecast.picture.ssim && rangeIn(forecast.picture.ssim),
    playCost: rangeOf(costs),
    gameFps: { without: game.without.meanFps, with: game.with.meanFps },
  };
}
