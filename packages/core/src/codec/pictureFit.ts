import type { Figure, RateProbe, Recipe } from '@mellow/model';
import { asFiled } from '../picture/camera';
import { framesPerSecond } from '../units';

/** Standard deviation of log2(1 - SSIM): of a measured scene at a quality number and at a set rate, and of any content. */
const spreads = { kind: 0.38, setRate: 0.7, any: 1.1 };
/** Of one passage of a game against the next, at one recipe. */
const contentSpread = 0.25;
/** What a curve may be off a step of the quality number away from a trial. */
const perStepAway = 0.03;
const z90 = 1.2816;

export const ssimOfLoss = (loss: number): number => Math.max(0.3, 1 - 2 ** Math.min(-0.6, loss));
/** log2(1 - SSIM); a picture without any loss is put where 8 bits end to tell. */
export const lossOf = (ssim: number): number => Math.log2(Math.max(1 - ssim, 2 ** -16));

/**
 * SSIM of a recipe: log2(1 - SSIM) as the curves give it, moved by what trials measured against their own curves: a normal
 * prior and a weighted mean, so that no trial, one and many are one formula (docs/model.md, "The picture").
 * @param loss as the curves give it for this recipe @param content how well the scene is known
 * @param curveOfProbe the same for a trial; null where it cannot be carried over
 */
export function fitLoss(
  recipe: Recipe,
  loss: number,
  content: keyof typeof spreads,
  probes: readonly RateProbe[],
  curveOfProbe: (probe: RateProbe) => number | null,
): Figure {
  let precision = 1 / spreads[content] ** 2;
  let sum = 0;
  const trials: number[] = [];
  const same: number[] = [];
  let standIn = false;
  let nearest = Infinity;
  for (const probe of probes) {
    const { likeness, encode, trial } = probe;
    const expected = likeness && curveOfProbe(probe);
    if (!likeness || expected === null) continue;
    const weight = 1 / (carrySpread(probe, recipe) ** 2 + contentSpread ** 2 * (10 / Math.max(2, probe.seconds)));
    precision += weight;
    sum += weight * (lossOf(likeness.ssim) - expected);
    trials.push(trial);
    nearest = Math.min(nearest, Math.abs(encode.quality - recipe.encode.quality));
    if (!isSame(probe, recipe)) continue;
    same.push(trial);
    standIn ||= likeness.standIn;
  }
  const middle = loss + sum / precision;
  // The shift is the same at every number, so that forecasts stay in the order of the numbers; the range grows away from a trial.
  const away = trials.length ? Math.hypot(contentSpread, perStepAway * nearest) : 0;
  const sd = Math.min(spreads[content], Math.hypot(Math.sqrt(1 / precision), away));
  return {
    value: ssimOfLoss(middle),
    low: ssimOfLoss(middle + z90 * sd),
    high: ssimOfLoss(middle - z90 * sd),
    ...originOf(trials, same, standIn),
  };
}

function originOf(
  trials: readonly number[],
  same: readonly number[],
  standIn: boolean,
): Pick<Figure, 'origin' | 'from'> {
  const words = (numbers: readonly number[]): string =>
    numbers.length === 1 ? `trial ${numbers[0]}` : `${numbers.length} trials`;
  if (same.length && !standIn) return { origin: 'measured', from: `measured in ${words(same)}` };
  if (same.length) return { origin: 'fitted', from: `fitted from ${words(same)}, made with a stand-in encoder` };
  if (trials.length) return { origin: 'fitted', from: `carried over from ${words(trials)} with other settings` };
  return { origin: 'typical', from: 'typical at this quality for such a scene' };
}

function isSame(probe: RateProbe, recipe: Recipe): boolean {
  const { encode, size, rate } = asFiled(recipe);
  return (
    JSON.stringify(probe.encode) === JSON.stringify(encode) &&
    probe.widthPx === size.widthPx &&
    probe.heightPx === size.heightPx &&
    Math.abs(probe.fps / framesPerSecond(rate) - 1) < 0.001
  );
}

/** How far a trial with other settings may be off its curve against this one (assumed). */
function carrySpread(probe: RateProbe, recipe: Recipe): number {
  const { encode, size, rate } = asFiled(recipe);
  let variance = 0;
  if (probe.encode.encoder !== encode.encoder) variance += 0.5 ** 2;
  if (probe.encode.effort !== encode.effort) variance += 0.3 ** 2;
  if (probe.encode.pixels !== encode.pixels) variance += 0.2 ** 2;
  if (probe.encode.rateControl !== encode.rateControl) variance += 0.25 ** 2;
  variance += (0.15 * Math.log2((probe.widthPx * probe.heightPx) / (size.widthPx * size.heightPx))) ** 2;
  variance += (0.15 * Math.log2(probe.fps / framesPerSecond(rate))) ** 2;
  return Math.sqrt(variance);
}
