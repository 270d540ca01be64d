import {
  causes,
  causeStation,
  stationNames,
  type GameRun,
  type Prediction,
  type Recipe,
  type Station,
} from '@mellow/model';
import { gameRunOf, isLoss, type LedgerColumns } from '../ledger';
import { simulateGameAlone, sceneAt, simulatePath, type PathRun, type SceneKind } from '../path';
import { ascending, mean, percentileOfSorted } from '../units';
import { sceneShares, type ForecastContext } from './context';
import { forecastOf, type Forecast } from './forecast';
import { pathParametersOf, shownPassages, withoutRecording, type Passage } from './pathOf';

export interface Range {
  value: number;
  low: number;
  high: number;
}

export interface PlayRuns {
  without: GameRun;
  with: GameRun;
}

/** One labelled draw of the next ten seconds, with what it says of the game. */
export interface Strip {
  run: PathRun;
  passages: readonly Passage[];
  /** Over all passages, as a trial measures it. */
  game: PlayRuns;
  /** Over play alone: loading, which is a small share of an hour and a fifth of the strip, would hide what recording takes. */
  play: PlayRuns;
}

export interface Predicted {
  /** Lost frames a minute of play, by station; each passage weighed by its share. */
  missesPerMinute: Range;
  byStation: Partial<Record<Station, number>>;
  delayMs: number;
  queuePeakBytes: number;
  seeds: number;
}

/** Frame times of the presented frames from due 0 on, milliseconds. @param counts whether a moment of the run is looked at */
const frameTimesMs = (presentsUs: Float64Array, counts: (us: number) => boolean = () => true): number[] => {
  const times: number[] = [];
  for (let i = 1; i < presentsUs.length; i++)
    if (presentsUs[i]! > 0 && counts(presentsUs[i]!)) times.push((presentsUs[i]! - presentsUs[i - 1]!) / 1000);
  return times;
};

/** A simulated run of play: its 1 % low is told from fewer than 1 000 frames too, since it is a model's figure anyway. */
const playRunOf = (times: number[]): GameRun => ({
  ...gameRunOf(times),
  onePercentLowFps: times.length >= 100 ? 1000 / percentileOfSorted(ascending(times), 0.99) : null,
});

/** Simulates the next ten seconds with and without recording, on the same draws. */
export function simulateStrip(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  seed: number,
  passages: readonly Passage[] = shownPassages,
): Strip {
  const parameters = pathParametersOf(recipe, context, forecast, seed, passages);
  const run = simulatePath(parameters);
  const alone = simulateGameAlone(withoutRecording(parameters));
  const playing = (us: number): boolean => sceneAt(parameters.scenes, us)?.kind !== 'loading';
  return {
    run,
    passages,
    game: { without: gameRunOf(frameTimesMs(alone)), with: gameRunOf(frameTimesMs(run.presentsUs)) },
    play: { without: playRunOf(frameTimesMs(alone, playing)), with: playRunOf(frameTimesMs(run.presentsUs, playing)) },
  };
}

export const lossesOf = (columns: LedgerColumns): Partial<Record<Station, number>> => {
  const lost: Partial<Record<Station, number>> = {};
  for (let n = 0; n < columns.length; n++) {
    if (!isLoss(columns, n)) continue;
    const station = causeStation[causes[columns.cause[n] ?? 0] ?? 'unknown'] ?? 'capture';
    lost[station] = (lost[station] ?? 0) + 1;
  }
  return lost;
};

/**
 * Misses a minute over many draws: each passage kind by itself for ten seconds, weighed by its share of play
 * (docs/model.md, "Simulation": mean and 10 to 90 % over the seeds).
 */
export function predictMisses(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  seed: number,
  seeds = 20,
): Predicted {
  const shares = sceneShares(context.game);
  const kinds: SceneKind[] = ['calm', 'busy', 'loading'];
  const seconds = 10;
  const perSeed: number[] = [];
  const byStation: Partial<Record<Station, number>> = {};
  const delays: number[] = [];
  let queuePeakBytes = 0;
  for (let s = 0; s < seeds; s++) {
    let misses = 0;
    for (const kind of kinds) {
      const run = simulatePath(pathParametersOf(recipe, context, forecast, seed + 7919 * s, [{ kind, seconds }]));
      const lost = lossesOf(run.columns);
      for (const station of stationNames) {
        const perMinute = ((lost[station] ?? 0) * shares[kind] * 60) / seconds;
        misses += perMinute;
        if (perMinute) byStation[station] = (byStation[station] ?? 0) + perMinute / seeds;
      }
      queuePeakBytes = Math.max(queuePeakBytes, run.bytesQueuedPeak);
      if (kind === 'busy') delays.push(meanDelayMs(run.columns));
    }
    perSeed.push(misses);
  }
  const sorted = ascending(perSeed);
  return {
    missesPerMinute: {
      value: mean(perSeed),
      low: percentileOfSorted(sorted, 0.1),
      high: percentileOfSorted(sorted, 0.9),
    },
    byStation,
    delayMs: mean(delays),
    queuePeakBytes,
    seeds,
  };
}

/** Mean delay in the encoder, milliseconds: from going in to coming out. */
function meanDelayMs(columns: LedgerColumns): number {
  let sum = 0;
  let count = 0;
  for (let n = 0; n < columns.length; n++) {
    const out = columns.encodeOut[n]!;
    if (columns.encodeIn[n]! < -1e9 || out < -1e9) continue;
    sum += out - columns.encodeIn[n]!;
    count++;
  }
  return count ? sum / count / 1000 : 0;
}

/** What is kept with a take before it rolls, with the passages it will go through. */
export function predictionFor(
  recipe: Recipe,
  context: ForecastContext,
  seed: number,
  passages: readonly Passage[],
  madeAt: string,
): Prediction {
  const forecast = forecastOf(recipe, context);
  const seeds = 6;
  const rates: number[] = [];
  let game: Strip['game'] | null = null;
  for (let s = 0; s < seeds; s++) {
    const strip = simulateStrip(recipe, context, forecast, seed + 7919 * s, passages);
    const lost = Object.values(lossesOf(strip.run.columns)).reduce((sum, n) => sum + n, 0);
    rates.push((lost * 60e6) / strip.run.endUs);
    game ??= strip.game;
  }
  const sorted = ascending(rates);
  const { bits } = forecast;
  return {
    madeAt,
    bitsPerSecond: { value: bits.value, low: bits.low, high: bits.high },
    busiestMs: Object.fromEntries(
      stationNames.map((name) => [name, name === 'drive' ? null : (forecast.loads[name]?.busiest ?? null)]),
    ) as Prediction['busiestMs'],
    missesPerMinute: {
      value: mean(rates),
      low: percentileOfSorted(sorted, 0.1),
      high: percentileOfSorted(sorted, 0.9),
    },
    gameFps: game ? { without: game.without.meanFps, with: game.with.meanFps } : null,
  };
}
