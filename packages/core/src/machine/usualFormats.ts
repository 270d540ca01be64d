import type { Recipe } from '@mellow/model';

/** A recipe at one of the usual 16:9 formats. */
export const setSizeRate = (recipe: Recipe, lines: number, fps: number): Recipe => ({
  ...recipe,
  rate: { num: fps, den: 1 },
  size: { ...recipe.size, widthPx: Math.round((lines * 16) / 9 / 2) * 2, heightPx: lines },
});
