import type { Recipe } from '@mellow/model';

export const setEncode = (recipe: Recipe, part: Partial<Recipe['encode']>): Recipe => ({
  ...recipe,
  encode: { ...recipe.encode, ...part },
});
export const setSize = (recipe: Recipe, size: { widthPx: number; heightPx: number }): Recipe => ({
  ...recipe,
  size: { ...recipe.size, widthPx: size.widthPx, heightPx: size.heightPx },
});
/** Another rate; the distance of key pictures keeps its seconds. */
export function setRate(recipe: Recipe, num: number, den = 1): Recipe {
  const seconds = (recipe.encode.keyDistanceFrames * recipe.rate.den) / recipe.rate.num;
  return {
    ...recipe,
    rate: { num, den },
    encode: { ...recipe.encode, keyDistanceFrames: Math.max(1, Math.min(2000, Math.round((seconds * num) / den))) },
  };
}
