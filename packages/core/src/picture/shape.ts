import { gcd } from '../units';

export interface SizePx {
  widthPx: number;
  heightPx: number;
}

/** Shape of a picture in lowest terms, e.g. 16:9 for 1920x1080. */
export function shapeOf({ widthPx, heightPx }: SizePx): string {
  const divisor = gcd(widthPx, heightPx);
  return `${widthPx / divisor}:${heightPx / divisor}`;
}

/** Share of the game's pixels that the file keeps: (linear share)^2. */
export function pixelShare(game: SizePx, file: SizePx): number {
  return (file.widthPx * file.heightPx) / (game.widthPx * game.heightPx);
}

/** Stretch of the width against the height when one size fills another: 1 where the shapes agree. */
export function fillStretch(game: SizePx, file: SizePx): number {
  return file.widthPx / file.heightPx / (game.widthPx / game.heightPx);
}

export const nothingToScale = (game: SizePx, file: SizePx): boolean =>
  game.widthPx === file.widthPx && game.heightPx === file.heightPx;

/** Sizes of the same shape worth offering: the game's own size and the usual line counts below it, even numbers. */
export function sizesBelow(game: SizePx): SizePx[] {
  const lines = [2160, 1440, 1080, 900, 720, 540, 480, 360].filter((l) => l < game.heightPx);
  const even = (n: number) => Math.round(n / 2) * 2;
  return [game, ...lines.map((l) => ({ widthPx: even((game.widthPx * l) / game.heightPx), heightPx: even(l) }))];
}
