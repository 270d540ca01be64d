import { shapeOf, type SizePx } from './shape';

const even = (n: number): number => Math.max(2, Math.round(n / 2) * 2);

/** A size scaled by per cent, even sides. */
export const sizeByPercent = (size: SizePx, percent: number): SizePx => ({
  widthPx: even((size.widthPx * percent) / 100),
  heightPx: even((size.heightPx * percent) / 100),
});

/** A size of the same shape with so many lines, even sides. */
export const sizeByLines = (size: SizePx, lines: number): SizePx => ({
  widthPx: even((size.widthPx * lines) / size.heightPx),
  heightPx: even(lines),
});

/** Half per side: a quarter of the pixels. */
export const halfPerSide = (size: SizePx): SizePx => sizeByPercent(size, 50);

/** Common names of shapes and of the numbers of lines, by what people call them (common practice). */
const shapeNames: readonly { name: string; ratio: number }[] = [
  { name: '4:3', ratio: 4 / 3 },
  { name: '5:4', ratio: 5 / 4 },
  { name: '16:10', ratio: 16 / 10 },
  { name: '16:9', ratio: 16 / 9 },
  { name: '21:9', ratio: 64 / 27 },
  { name: '32:9', ratio: 32 / 9 },
  { name: '1:1', ratio: 1 },
  { name: '9:16', ratio: 9 / 16 },
  { name: '3:2', ratio: 3 / 2 },
];
/** Sizes sold as 21:9 lie between 2.33 and 2.40; others are named within half a per cent. */
export function shapeName(size: SizePx): string {
  const ratio = size.widthPx / size.heightPx;
  const near = shapeNames.find((shape) => Math.abs(ratio / shape.ratio - 1) < (shape.name === '21:9' ? 0.02 : 0.005));
  return near?.name ?? shapeOf(size);
}

/** Whether a size of this shape is 16:9 within half a per cent. */
export const isWide = (size: SizePx): boolean => shapeName(size) === '16:9';
