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
import { atMost, figure, median, type BenchResult } from './measure';

const runs = 200;
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
  const { events } = simulateStrip(recipeAt(0), context, forecastOf(recipeAt(0), context), seed).run;
  for (let i = 0; i < 20; i++) bareEventLoop(2 * events);
  // Alternated, so that a machine which slows down does so for both. The strip is simulated with and without recording.
  const pairs = Array.from({ length: runs }, (_, i) => [once(i), timed(() => bareEventLoop(2 * events))] as const);
  const withStrip = median(pairs.map(([strip]) => strip));
  const bare = median(pairs.map(([, loop]) => loop));
  const forecastAll = (): void => {
    for (let i = 0; i < candidates; i++) forecastOf(recipeAt(i), context);
  };
  const formulaAll = (): void => {
    for (let i = 0; i < candidates; i++) plainFormula(recipeAt(i));
  };
  // The first round of each is for the compiler.
  const rounds = Array.from({ length: 4 }, () => [timed(forecastAll), timed(formulaAll)] as const).slice(1);
  const forecasts = median(rounds.map(([all]) => all));
  const plain = median(rounds.map(([, all]) => all));
  return [
    figure('forecast with ten simulated seconds at 60 fps, median of 200', withStrip, 'ms'),
    atMost(`the same against a bare loop of ${2 * events} events`, withStrip / bare, 'times', 2.5),
    figure('10 000 candidate recipes forecast without simulation', forecasts / 1000, 's'),
    atMost('the same against as many plain formulas', forecasts / plain, 'times', 2.5),
  ];
}

const timed = (work: () => void): number => {
  const startedMs = performance.now();
  work();
  return performance.now() - startedMs;
};

/** Pops the soonest of the jobs that a path has under way and pushes its next one, so often; a heap of objects (Knuth, 5.2.3). */
function bareEventLoop(events: number): number {
  const heap = Array.from({ length: 12 }, (_, job) => ({ at: job * 700, job, work: 1000 }));
  let sum = 0;
  for (let n = 0; n < events; n++) {
    const first = heap[0]!;
    sum += first.at;
    const factor = Math.exp(0.18 * Math.sin(n + first.job));
    let moved = { at: first.at + first.work * factor, job: first.job, work: first.work };
    let i = 0;
    for (let child = 1; child < heap.length; child = 2 * i + 1) {
      if (child + 1 < heap.length && heap[child + 1]!.at < heap[child]!.at) child++;
      if (heap[child]!.at >= moved.at) break;
      heap[i] = heap[child]!;
      i = child;
    }
    heap[i] = moved;
    moved = heap[0]!;
  }
  return sum;
}

/** A formula of about as many terms as a forecast has: sums of powers and logarithms of a recipe's figures, and their words. */
function plainFormula({ encode, size, rate, lanes }: Recipe): string {
  const pixels = size.widthPx * size.heightPx;
  let sum = 0;
  for (let term = 1; term <= plainTerms; term++)
    sum += Math.log2(pixels * term) * 0.3 + (rate.num / rate.den / term) ** 0.95 - 2 ** (-encode.quality / term);
  return `${sum.toFixed(3)} of ${lanes.length} lanes, ${encode.encoder}`;
}
const plainTerms = 60;
