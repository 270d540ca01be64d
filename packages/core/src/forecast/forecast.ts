import type { Recipe, Take } from '@mellow/model';
import { laneBitsPerSecond } from '../codec';
import { bitrateOf } from '../storage';

/** A figure with its range and where it comes from. */
export interface Forecast {
  /** Bits a second of the whole file; null where nothing is known before a trial. */
  bitsPerSecond: { value: number; low: number; high: number } | null;
  origin: 'set' | 'measured' | 'scaled' | 'none';
  originText: string;
  /** The last undisturbed trial of the setup, that loads are taken from. */
  loadsFrom: Take | null;
  loadsAreOfThisRecipe: boolean;
}

/** Measured here on moving scenes: 6 steps of the quality number scale the size by 0.43 to 0.55. */
const sixSteps = { low: 0.43, usual: 0.5, high: 0.55 };

const samePicture = (a: Recipe, b: Recipe): boolean =>
  a.size.widthPx === b.size.widthPx &&
  a.size.heightPx === b.size.heightPx &&
  a.rate.num * b.rate.den === b.rate.num * a.rate.den &&
  a.encode.effort === b.encode.effort &&
  a.encode.bFrames === b.encode.bFrames &&
  a.encode.lowDelay === b.encode.lowDelay &&
  a.encode.keyDistanceFrames === b.encode.keyDistanceFrames;

/**
 * First form of the forecast: rates that were set are known, a quality number is known from a trial
 * of the same picture (scaled over at most 6 steps), loads are those of the setup's last trial.
 * @param trials trials of one setup, in any order
 */
export function forecastOf(recipe: Recipe, trials: readonly Take[]): Forecast {
  const measured = trials
    .filter((t) => t.summary && t.facts && t.facts.durationUs && t.summary.due > 0)
    .sort((a, b) => b.createdAt.localeCompare(a.createdAt));
  // A disturbed trial tells more of other programs than of the recipe: its loads are left out.
  const last = measured.find((trial) => !trial.summary?.disturbed) ?? null;
  const loadsAreOfThisRecipe = last !== null && JSON.stringify(last.recipe) === JSON.stringify(recipe);
  const sound = recipe.lanes.reduce((sum, lane) => sum + laneBitsPerSecond(lane), 0);
  const base = { loadsFrom: last, loadsAreOfThisRecipe };
  if (recipe.encode.rateControl !== 'constant-quality') {
    const value = recipe.encode.bitrateKbps * 1000 + sound;
    const ceiling = recipe.encode.rateControl === 'variable-bitrate' ? recipe.encode.ceilingKbps * 1000 + sound : value;
    return { bitsPerSecond: { value, low: value * 0.9, high: Math.max(value * 1.1, ceiling) }, origin: 'set', originText: 'from the set bitrate', ...base };
  }
  const usable = measured.filter((t) => t.recipe.encode.rateControl === 'constant-quality' && samePicture(t.recipe, recipe));
  const nearest = usable.sort((a, b) => Math.abs(a.recipe.encode.quality - recipe.encode.quality) - Math.abs(b.recipe.encode.quality - recipe.encode.quality))[0];
  if (!nearest) return { bitsPerSecond: null, origin: 'none', originText: 'a trial will tell', ...base };
  const steps = recipe.encode.quality - nearest.recipe.encode.quality;
  const picture = pictureBitrate(nearest);
  const scale = (per6: number) => picture * per6 ** (steps / 6);
  if (steps === 0) {
    const value = picture + sound;
    return { bitsPerSecond: { value, low: value * 0.83, high: value * 1.17 }, origin: 'measured', originText: `measured by trial ${nearest.number}`, ...base };
  }
  if (Math.abs(steps) > 6) return { bitsPerSecond: null, origin: 'none', originText: `trial ${nearest.number} is more than 6 steps away`, ...base };
  const ends = [scale(sixSteps.low), scale(sixSteps.high)];
  return {
    bitsPerSecond: { value: scale(sixSteps.usual) + sound, low: Math.min(...ends) + sound, high: Math.max(...ends) + sound },
    origin: 'scaled',
    originText: `from trial ${nearest.number} at quality ${nearest.recipe.encode.quality}, 6 steps halve or double`,
    ...base,
  };
}

/** Mean bits a second of a trial's picture track over its due length. */
function pictureBitrate(take: Take): number {
  const seconds = take.summary ? (take.summary.due * take.recipe.rate.den) / take.recipe.rate.num : 0;
  return bitrateOf(take.facts?.picture.pictureBytes ?? 0, seconds);
}
