import { fileMatrix, fileRange } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import type { Samples } from '../convert/matrixWeights';
import { nativePixels } from '../native/encoderNames';
import { pixelLayout, type LayoutName, type PixelLayout } from '../native/pixelLayout';
import { partsOf, type Part } from './sizedParts';

/**
 * How a picture comes from the source's samples to the file's: scaled only, since matrix and range stay; or converted in
 * the memory that it lies in, from colours, to colours or to another matrix and range.
 */
export type SizingWay = 'scaled' | 'from-colours' | 'to-colours' | 'other-matrix';
export type ConvertingWay = Exclude<SizingWay, 'scaled'>;

/** Bytes of a pixel that lies in one plane; 1: a plane for each colour. */
export const colourBytes: Partial<Record<LayoutName, 1 | 3 | 4>> = { gbrp: 1, bgr24: 3, bgr0: 4 };
/** Bits that a sample of 10 lies above the lowest. */
export const liftOf: Partial<Record<LayoutName, number>> = { yuv420p10le: 0, p010le: 6 };
const halved8: readonly LayoutName[] = ['yuv420p', 'yuvj420p', 'nv12'];

/** Samples of what comes from a practice game, a sample or a camera. */
export const gameSamples: Samples = { matrix: 'bt709', range: 'limited' };

/** Samples that a file has in luma and differences. */
export function fileSamples(recipe: Recipe): Samples {
  const matrix = fileMatrix(recipe);
  return {
    matrix: matrix === 'rgb' ? 'bt709' : matrix,
    range: fileRange(recipe),
    centred: nativePixels(recipe.encode).name === 'yuvj420p',
  };
}

const sameSize = (from: Part, to: Part): boolean => from.widthPx === to.widthPx && from.heightPx === to.heightPx;
const isSmaller = (a: Part, b: Part): boolean => a.widthPx <= b.widthPx && a.heightPx <= b.heightPx;
const isWide = ({ name }: PixelLayout): boolean => liftOf[name] !== undefined;
const isEven = ({ widthPx, heightPx }: Part): boolean => widthPx % 2 === 0 && heightPx % 2 === 0;

export function sizingWay(source: PixelLayout, target: PixelLayout, recipe: Recipe): SizingWay {
  const coloured = colourBytes[target.name] !== undefined;
  if (source.name === 'bgr0') return coloured ? 'scaled' : 'from-colours';
  if (coloured) return 'to-colours';
  const { matrix, range } = fileSamples(recipe);
  return matrix === gameSamples.matrix && range === gameSamples.range ? 'scaled' : 'other-matrix';
}

/** The picture between two steps, where one step is not enough; null where it is. */
export function betweenLayout(
  source: PixelLayout,
  target: PixelLayout,
  recipe: Recipe,
  way: ConvertingWay,
): PixelLayout | null {
  const { from, to } = partsOf(source, recipe);
  const same = sameSize(from, to);
  const at = (part: Part, name: LayoutName) => pixelLayout(name, part.widthPx, part.heightPx, true);
  switch (way) {
    case 'from-colours': {
      if (same) return null;
      // Half the differences are enough where no more than that is left of them afterwards.
      const enough = halved8.includes(target.name) && isSmaller(to, from) && isEven(from);
      return at(from, enough ? 'yuv420p' : isWide(target) ? 'yuv444p10le' : 'yuv444p');
    }
    case 'to-colours':
      return at(to, 'yuv444p');
    case 'other-matrix':
      // The scaler brings samples to as many, and as deep, as the file has them.
      if (target.name === 'yuv444p') return at(to, 'yuv444p');
      if (isWide(target)) return at(to, 'yuv420p10le');
      return same ? null : at(to, 'yuv420p');
  }
}
