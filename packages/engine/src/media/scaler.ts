import type { Recipe, ScalingFilter } from '@mellow/model';
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
export function createScaler(game: { widthPx: number; heightPx: number }, size: Recipe['size'], range: Recipe['encode']['range']): PictureFilter {
  const outRange = range === 'full' ? 'pc' : 'tv';
  const chain = `scale=${size.widthPx}:${size.heightPx}:flags=${methods[size.filter]}+accurate_rnd:in_range=tv:out_color_matrix=bt709:out_range=${outRange},format=yuv420p`;
  return openPictureFilter(game.widthPx, game.heightPx, 'limited', chain);
}
