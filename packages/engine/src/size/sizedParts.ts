import { fitInto, type SizePx } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import type { PixelLayout, PlaneLayout } from '../native/pixelLayout';

/** A part of a picture, sides even. */
export interface Part extends SizePx {
  leftPx: number;
  topPx: number;
}

const evenDown = (n: number): number => Math.max(2, Math.floor(n / 2) * 2);
const wholeOf = ({ widthPx, heightPx }: SizePx): Part => ({ leftPx: 0, topPx: 0, widthPx, heightPx });

/** Which part of the source lands on which part of the file. */
export function partsOf(source: SizePx, { size }: Pick<Recipe, 'size'>): { from: Part; to: Part } {
  const file: SizePx = size;
  const { picture, barsPx, cutShare } = fitInto(source, file, size.fit);
  const evenBar = (px: number): number => Math.floor(px / 2) * 2;
  const to = { ...picture, leftPx: evenBar(barsPx.side), topPx: evenBar(barsPx.top) };
  if (cutShare === 0) return { from: wholeOf(source), to };
  const wide = file.widthPx / source.widthPx > file.heightPx / source.heightPx;
  const kept = {
    widthPx: wide ? source.widthPx : evenDown(source.widthPx * (1 - cutShare)),
    heightPx: wide ? evenDown(source.heightPx * (1 - cutShare)) : source.heightPx,
  };
  const from = {
    ...kept,
    leftPx: evenBar((source.widthPx - kept.widthPx) / 2),
    topPx: evenBar((source.heightPx - kept.heightPx) / 2),
  };
  return { from, to };
}

/** Bytes from a plane's start to where a part of the picture begins in it. */
export const startOf = (plane: PlaneLayout, part: Part): number =>
  Math.floor(part.topPx / plane.step.y) * plane.strideBytes +
  Math.floor(part.leftPx / plane.step.x) * plane.bytesPerSample;

export const hasBars = (to: Part, target: PixelLayout): boolean =>
  to.widthPx !== target.widthPx || to.heightPx !== target.heightPx;

/** The scaler may write past the end of a line, into the bar on the right or the next line's on the left: black again. */
export function blackBeside(planes: readonly Buffer[], layout: PixelLayout, to: Part, blacks: readonly Buffer[]): void {
  layout.planes.forEach((plane, i) => {
    const bytesOf = (px: number): number => Math.floor(px / plane.step.x) * plane.bytesPerSample;
    const [left, right] = [bytesOf(to.leftPx), bytesOf(to.leftPx + to.widthPx)];
    if (left === 0 && right >= plane.lineBytes) return;
    for (let row = 0; row < plane.rows; row++) {
      const line = row * plane.strideBytes;
      planes[i]?.fill(blacks[i] ?? 0, line, line + left);
      planes[i]?.fill(blacks[i] ?? 0, line + right, line + plane.lineBytes);
    }
  });
}
