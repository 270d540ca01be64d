import {
  forecastOf,
  kestrel,
  plainPracticeGame,
  seedOf,
  simulateStrip,
  standInFacts,
  startRecipe,
  type ForecastContext,
} from '@mellow/core';
import { briefSchema, efforts, noCalibration, type Recipe } from '@mellow/model';
import { atMost, median, type BenchResult } from './measure';

const runs = 40;
const candidates = 10_000;

/** How fast a recipe is forecast: with its ten seconds simulated, and thousands of candidates without. */
export function benchForecast(): BenchResult[] {
  const brief = briefSchema.parse({ purpose: 'long-play', sessionMinutes: 90 });
  const game = { ...plainPracticeGame, widthPx: 1920, heightPx: 1080 };
  const start = startRecipe(brief, game, 'kestrel-barn');
  const context: ForecastContext = {
    game,
    brief,
    machine: kestrel,
    drives: kestrel.drives.map(standInFacts),
    calibration: noCalibration,
    locks: [],
    start,
  };
  const seed = seedOf(game, 'bench');
  const recipeAt = (i: number): Recipe => ({
    ...start,
    encode: { ...start.encode, quality: 10 + (i % 30), effort: efforts[i % efforts.length] ?? 'light' },
    size: { ...start.size, widthPx: 1920 - 16 * (i % 40), heightPx: 1080 - 9 * (i % 40) },
  });
  const once = (i: number): number => {
    const recipe = recipeAt(i);
    const startedMs = performance.now();
    simulateStrip(recipe, context, forecastOf(recipe, context), seed);
    return performance.now() - startedMs;
  };
  for (let i = 0; i < 20; i++) once(i);
  const withStrip = median(Array.from({ length: runs }, (_, i) => once(i)));
  const startedMs = performance.now();
  for (let i = 0; i < candidates; i++) forecastOf(recipeAt(i), context);
  return [
    atMost('forecast with ten simulated seconds at 60 fps, median of 40', withStrip, 'ms', 5),
    atMost('10 000 candidate recipes forecast without simulation', (performance.now() - startedMs) / 1000, 's', 1),
  ];
}
