import type { Fit } from '@mellow/model';
import type { SizePx } from './shape';

/** Shapes that differ by less are taken for one: a line of black would show, so small a stretch does not. */
export const nearShape = 0.005;

const evenDown = (n: number): number => Math.max(2, Math.floor(n / 2) * 2);

export interface Fitted {
  /** Size of the game's picture within the file. */
  picture: SizePx;
  /** Bars at each side, and above and below, pixels. */
  barsPx: { side: number; top: number };
  /** Cut off of the game's picture, share of its width or height. */
  cutShare: number;
  /** Stretch of the width against the height, 1 without. */
  stretch: number;
}

/**
 * How a game's picture lies in a file of another shape. Fit: s = min(Wf/Wg, Hf/Hg), bars (Wf - s Wg)/2 and (Hf - s Hg)/2;
 * fill: s = max(...), the rest is cut; stretch: (Wf/Hf)/(Wg/Hg). Sides are even, as 4:2:0 asks.
 * Nearly equal shapes (854x480 for 16:9) fill each other.
 */
export function fitInto(game: SizePx, file: SizePx, fit: Fit): Fitted {
  const [wide, tall] = [file.widthPx / game.widthPx, file.heightPx / game.heightPx];
  if (fit === 'stretch' || Math.abs(wide / tall - 1) < nearShape)
    return { picture: file, barsPx: { side: 0, top: 0 }, cutShare: 0, stretch: wide / tall };
  if (fit === 'fill')
    return {
      picture: file,
      barsPx: { side: 0, top: 0 },
      cutShare: 1 - Math.min(wide, tall) / Math.max(wide, tall),
      stretch: 1,
    };
  const scale = Math.min(wide, tall);
  const picture = {
    widthPx: Math.min(file.widthPx, evenDown(game.widthPx * scale + 1e-6)),
    heightPx: Math.min(file.heightPx, evenDown(game.heightPx * scale + 1e-6)),
  };
  return {
    picture,
    barsPx: { side: (file.widthPx - picture.widthPx) / 2, top: (file.heightPx - picture.heightPx) / 2 },
    cutShare: 0,
    stretch: 1,
  };
}

/** Height in the file of text that has so many lines in the game. */
export const textHeightPx = (game: SizePx, file: SizePx, fit: Fit, textPx: number): number =>
  textPx *
  (fit === 'fill'
    ? Math.max(file.widthPx / game.widthPx, file.heightPx / game.heightPx)
    : fitInto(game, file, fit).picture.heightPx / game.heightPx);
