import { causes, causeStation, stationNames, type GameRun, type Recipe, type Station } from '@mellow/model';
import { gameRunOf, isLoss, type LedgerColumns } from '../ledger';
import { simulateGameAlone, sceneAt, simulatePath, type PathRun, type SceneKind } from '../path';
import { ascending, mean, percentileOfSorted } from '../units';
import { sceneShares, type ForecastContext } from './context';
import type { Forecast } from './forecast';
import { pathParametersOf, shownPassages, type Passage } from './pathOf';
import { drawGuesses, spreadOf, type Spreads } from './uncertain';

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
  /** Over all passages, as a trial measures it; the page never asks. */
  overAll(): PlayRuns;
  /** Over play alone: loading, which is a small share of an hour and a fifth of the strip, would hide what recording takes. */
  play: PlayRuns;
}

export interface Predicted {
  /** Lost frames a minute of play, by station; each passage weighed by its share. */
  missesPerMinute: Range;
  /** Share of its frames that the game loses in busy passages. */
  playCost: Range;
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
const playRunOf = (times: number[]): GameRun => gameRunOf(times, 100);

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
  const alone = simulateGameAlone(parameters);
  const playing = (us: number): boolean => sceneAt(parameters.scenes, us)?.kind !== 'loading';
  return {
    run,
    passages,
    overAll: () => ({
      without: gameRunOf(frameTimesMs(alone)),
      with: gameRunOf(frameTimesMs(run.presentsUs)),
    }),
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

/** A drive writes faster and slower than in its test: at its inner tracks, when it is full, when it is warm (assumptions). */
const measuredDriveSpread = { low: 0.8, high: 1.1 };
const unmeasuredDriveSpread = { low: 0.3, high: 3 };

/** How far each thing may lie from its middle value, as the forecast's own figures say. */
export function spreadsOf(forecast: Forecast): Spreads {
  const { work, bits, drive } = forecast;
  const measured = drive?.writeBytesPerSecond !== null && drive?.writeBytesPerSecond !== undefined;
  return {
    game: spreadOf(work.game.processorUs),
    size: work.size ? spreadOf(work.size) : { low: 1, high: 1 },
    encode: spreadOf(work.encode),
    bits: spreadOf(bits),
    driveSpeed: measured ? measuredDriveSpread : unmeasuredDriveSpread,
  };
}

/**
 * Misses a minute and play cost over many draws: each passage kind by itself for ten seconds, weighed by its share of play
 * (docs/model.md, "Simulation": mean and 10 to 90 % over the seeds). Each seed also draws work, speed, size and what is
 * shared from their own ranges, so that the range holds what is not known and not only chance.
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
  const guesses = drawGuesses(seed, seeds, spreadsOf(forecast));
  const perSeed: number[] = [];
  const costs: number[] = [];
  const byStation: Partial<Record<Station, number>> = {};
  const delays: number[] = [];
  let queuePeakBytes = 0;
  for (const [s, guess] of guesses.entries()) {
    const drawnSeed = seed + 7919 * s;
    let misses = 0;
    for (const kind of kinds) {
      const parameters = pathParametersOf(recipe, context, forecast, drawnSeed, [{ kind, seconds }], guess);
      const run = simulatePath(parameters);
      const lost = lossesOf(run.columns);
      for (const station of stationNames) {
        const perMinute = ((lost[station] ?? 0) * shares[kind] * 60) / seconds;
        misses += perMinute;
        if (perMinute) byStation[station] = (byStation[station] ?? 0) + perMinute / seeds;
      }
      queuePeakBytes = Math.max(queuePeakBytes, run.bytesQueuedPeak);
      if (kind === 'busy') {
        delays.push(meanDelayMs(run.columns));
        costs.push(shareLost(simulateGameAlone(parameters), run.presentsUs));
      }
    }
    perSeed.push(misses);
  }
  return {
    missesPerMinute: atLeastWhatNobodySaw(rangeOf(perSeed), context, forecast, (seeds * kinds.length * seconds) / 60),
    playCost: rangeOf(costs),
    byStation,
    delayMs: mean(delays),
    queuePeakBytes,
    seeds,
  };
}

/** Mean, and 10 to 90 %; a mean that a few draws carry beyond them is still within what is told. */
export function rangeOf(values: readonly number[]): Range {
  const sorted = ascending(values);
  const value = mean(values);
  return {
    value,
    low: Math.min(value, percentileOfSorted(sorted, 0.1)),
    high: Math.max(value, percentileOfSorted(sorted, 0.9)),
  };
}

/** Share of the frames that a game presents less while it is recorded. */
export function shareLost(alone: Float64Array, recorded: Float64Array): number {
  const rate = (presents: Float64Array): number =>
    presents.length > 1 ? (presents.length - 1) / (presents[presents.length - 1]! - presents[0]!) : 0;
  return rate(alone) > 0 ? 1 - rate(recorded) / rate(alone) : 0;
}

/** Loads up to this share of their budgets, at their upper ends, are far below them. */
const farBelow = 0.8;

/**
 * No miss in all simulated minutes is none only where the machine is proven and every load stands far below its budget.
 * Otherwise up to 2.3 in the time looked at remain possible in 9 of 10 cases (none seen of a Poisson process: ln 10).
 */
export function atLeastWhatNobodySaw(
  range: Range,
  context: ForecastContext,
  forecast: Forecast,
  minutes: number,
): Range {
  const proven = context.machine?.encoders.some(
    (e) => e.encoder === forecast.encoder && e.works && e.workUsPerMegapixel !== null,
  );
  const calm = stationNames.every((station) => {
    const load = forecast.loads[station];
    // A drive that nobody measured may be too slow; a station that is not there is not.
    if (!load) return station !== 'drive';
    return station === 'game' || load.high <= load.budget * farBelow;
  });
  return range.high > 0 || (proven && calm) ? range : { ...range, high: Math.LN10 / minutes };
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
