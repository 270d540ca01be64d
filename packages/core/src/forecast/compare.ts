import type { Recipe } from '@mellow/model';
import { formatFigure, formatPercent, signed } from '../units';
import type { ForecastContext } from './context';
import { forecastOf, type Forecast } from './forecast';
import { predictMisses, simulateStrip, type PlayRuns, type Predicted, type Strip } from './predict';

/** A forecast with its simulation: everything that is shown of a recipe before a trial. */
export interface Outlook {
  forecast: Forecast;
  strip: Strip;
  predicted: Predicted;
}

/** @param seeds draws for the misses; few while something is only considered */
export function outlookOf(recipe: Recipe, context: ForecastContext, seed: number, seeds: number): Outlook {
  const forecast = forecastOf(recipe, context);
  return {
    forecast,
    strip: simulateStrip(recipe, context, forecast, seed),
    predicted: predictMisses(recipe, context, forecast, seed, seeds),
  };
}

/** Play cost of an outlook: shares of mean and 1 % low that recording takes. */
export function playCostOf({ without, with: recorded }: PlayRuns): { mean: number; low: number | null } {
  const [a, b] = [without.onePercentLowFps, recorded.onePercentLowFps];
  return { mean: without.meanFps > 0 ? 1 - recorded.meanFps / without.meanFps : 0, low: a && b ? 1 - b / a : null };
}

export type ArrowName = 'picture' | 'size' | 'play cost' | 'misses';
/** One of the four small arrows: which way a figure goes and by how much. */
export interface Arrow {
  name: ArrowName;
  direction: -1 | 0 | 1;
  /** Whether that is for the better. */
  good: boolean | null;
  text: string;
}

const bigger = (change: number, least: number): -1 | 0 | 1 => (Math.abs(change) < least ? 0 : change > 0 ? 1 : -1);
const gbPerHour = (bits: number): number => (bits * 0.45) / 1e6;

/** What would change from one outlook to another, as the four arrows show it. */
export function arrowsBetween(now: Outlook, then: Outlook): Arrow[] {
  const ssim = (f: Forecast): number => f.picture.ssim?.value ?? 1;
  const picture = bigger(ssim(then.forecast) - ssim(now.forecast), 0.0003);
  const size = gbPerHour(then.forecast.bits.value) - gbPerHour(now.forecast.bits.value);
  const sizeWay = bigger(size, Math.max(0.005, gbPerHour(now.forecast.bits.value) * 0.004));
  const [before, after] = [playCostOf(now.strip.play), playCostOf(then.strip.play)];
  const cost = bigger(after.mean - before.mean, 0.001);
  const misses = then.predicted.missesPerMinute.value - now.predicted.missesPerMinute.value;
  const missWay = bigger(misses, 0.05);
  const low = before.low !== null && after.low !== null ? `, low ${signed((after.low - before.low) * 100, 1)} %` : '';
  return [
    {
      name: 'picture',
      direction: picture,
      good: picture === 0 ? null : picture > 0,
      text: then.forecast.picture.ssim ? `${then.forecast.picture.ssim.value.toFixed(3)}` : 'exact',
    },
    {
      name: 'size',
      direction: sizeWay,
      good: sizeWay === 0 ? null : sizeWay < 0,
      text: sizeWay === 0 ? 'same' : `${signed(size, Math.abs(size) < 9.995 ? 2 : 1)} GB/h`,
    },
    {
      name: 'play cost',
      direction: cost,
      good: cost === 0 ? null : cost < 0,
      text: cost === 0 ? 'same' : `${signed((after.mean - before.mean) * 100, 1)} %${low}`,
    },
    {
      name: 'misses',
      direction: missWay,
      good: missWay === 0 ? null : missWay < 0,
      text: missWay === 0 ? 'same' : `${signed(misses, 1)} /min`,
    },
  ];
}

/** Differences of two forecasts in words, for a remedy and for versions side by side: "7.45 to 5.10 GB/h, Encode 16.1 to 11.2 ms". */
export function forecastDifferences(from: Forecast, to: Forecast): string[] {
  const words: string[] = [];
  const [a, b] = [gbPerHour(from.bits.value), gbPerHour(to.bits.value)];
  if (Math.abs(a - b) > Math.max(0.005, a * 0.004)) words.push(`${formatFigure(a)} to ${formatFigure(b)} GB/h`);
  for (const [name, word] of [
    ['size', 'Size'],
    ['encode', 'Encode'],
  ] as const) {
    const [x, y] = [from.loads[name], to.loads[name]];
    if (x && y && (Math.abs(x.busiest - y.busiest) > 0.05 || Math.abs(x.budget - y.budget) > 0.05))
      words.push(
        `${word} ${formatPercent(x.busiest / x.budget)} to ${formatPercent(y.busiest / y.budget)} of its budget`,
      );
  }
  if (from.picture.word !== to.picture.word) words.push(`picture ${from.picture.word} to ${to.picture.word}`);
  if (from.secondsLost !== to.secondsLost)
    words.push(`if the recorder dies ${from.secondsLost.toFixed(1)} s to ${to.secondsLost.toFixed(1)} s lost`);
  return words;
}
