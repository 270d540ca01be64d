import type { Recipe } from '@mellow/model';
import { encoderFacts, leastSsimOf, type QualityWord } from '../codec';
import { setEncode } from '../recipe/change';
import type { Look } from './rule';

const ssimOf = (look: Look, recipe: Recipe): number => look.forecastOf(recipe).picture.ssim?.value ?? 1;

/**
 * The largest of whole numbers in a range for which a condition still holds that fails from some point on; null where it holds nowhere.
 */
function lastThatHolds(from: number, to: number, holds: (n: number) => boolean): number | null {
  if (!holds(from)) return null;
  let [low, high] = [from, to];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (holds(middle)) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** The coarsest number on the recipe's own scale whose picture the forecast calls by this word or a better one. */
export function coarsestFor(
  look: Look,
  word: Exclude<QualityWord, 'exact' | 'blocky'>,
  recipe = look.recipe,
): number | null {
  const scale = encoderFacts[recipe.encode.encoder].quality;
  const least = leastSsimOf(word);
  const numbered = setEncode(recipe, { rateControl: 'constant-quality' });
  return scale && lastThatHolds(1, scale.worst, (quality) => ssimOf(look, setEncode(numbered, { quality })) >= least);
}

/** The lowest set bitrate, in steps of 500 kb/s, whose picture the forecast calls by this word or a better one; null: none up to 400 Mb/s. */
export function leastKbpsFor(look: Look, word: Exclude<QualityWord, 'exact' | 'blocky'>): number | null {
  const [stepKbps, most] = [500, 800];
  const least = leastSsimOf(word);
  const at = (steps: number): Recipe =>
    setEncode(look.recipe, { bitrateKbps: steps * stepKbps, ceilingKbps: Math.round(steps * stepKbps * 1.5) });
  // From the top down, as the picture gets worse that way.
  const down = lastThatHolds(0, most - 1, (n) => ssimOf(look, at(most - n)) >= least);
  return down === null ? null : (most - down) * stepKbps;
}
