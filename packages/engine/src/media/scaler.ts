import { fitInto } from '@mellow/core';
import type { Fit, Recipe, ScalingFilter } from '@mellow/model';
import { openPictureFilter, type PictureFilter } from './pictureFilter';

/** The scaling library's names for our filters. */
const methods: Record<ScalingFilter, string> = {
  nearest: 'neighbor',
  bilinear: 'bilinear',
  bicubic: 'bicubic',
  area: 'area',
  lanczos: 'lanczos',
  spline: 'spline',
};

/** A scaler from the game's size to the file's, limited Rec. 709 in, Rec. 709 in the recipe's range out. */
export function createScaler(
  game: { widthPx: number; heightPx: number },
  size: Recipe['size'],
  range: Recipe['encode']['range'],
): PictureFilter {
  const fitted = fitInto(game, size, 'bars').picture;
  const outRange = range === 'full' ? 'pc' : 'tv';
  const flags = `flags=${methods[size.filter]}+accurate_rnd:in_range=tv:out_color_matrix=bt709:out_range=${outRange}`;
  const [w, h] = [size.widthPx, size.heightPx];
  const chains: Record<Fit, string> = {
    stretch: `scale=${w}:${h}:${flags}`,
    bars: `scale=${fitted.widthPx}:${fitted.heightPx}:${flags},pad=${w}:${h}:(ow-iw)/2:(oh-ih)/2:color=black`,
    fill: `scale=${w}:${h}:force_original_aspect_ratio=increase:force_divisible_by=2:${flags},crop=${w}:${h}`,
  };
  return openPictureFilter(game.widthPx, game.heightPx, 'limited', `${chains[size.fit]},format=yuv420p`);
}
