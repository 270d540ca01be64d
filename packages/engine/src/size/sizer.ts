import { fileRange, type SizePx } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import type { PictureMemory } from '../convert/pixelConverter';
import { createConvertingSizer } from './convertingSizer';
import { filterSizer } from './filterSizer';
import { blackOf, pixelLayout, type PixelLayout } from '../native/pixelLayout';
import { openPlaneScaler } from './planeScaler';
import { blackBeside, hasBars, partsOf } from './sizedParts';
import { sizingWay } from './sizingWay';

/** Scales and converts one picture from the source's planes into the file's. */
export interface Sizer {
  run(source: readonly Buffer[], target: readonly Buffer[]): void;
  free(): void;
}

/** Memory that both pictures and what lies between them have in common. */
export interface ConversionRoom {
  memory: PictureMemory;
  /** Where the picture between begins, if there is one. */
  betweenAt: number;
}

/**
 * Opens Size for a source and a recipe.
 * @param room where pictures may be converted in place; without it the library's filters do it in frames of their own
 */
export function createSizer(
  source: PixelLayout,
  target: PixelLayout,
  recipe: Recipe,
  room: ConversionRoom | null = null,
): Sizer {
  const way = sizingWay(source, target, recipe);
  if (way === 'scaled') return scalingSizer(source, target, recipe);
  return room ? createConvertingSizer(source, target, recipe, way, room) : filterSizer(source, target, recipe);
}

/** Matrix and range stay as they are: from shared memory into shared memory, in one step. */
function scalingSizer(source: PixelLayout, target: PixelLayout, recipe: Recipe): Sizer {
  const { from, to } = partsOf(source, recipe);
  const scaler = openPlaneScaler({ layout: source, part: from }, { layout: target, part: to }, recipe.size.filter);
  const blacks = hasBars(to, target) ? blackOf(target.name, fileRange(recipe)) : null;
  return {
    run(sourcePlanes, targetPlanes) {
      if (blacks) targetPlanes.forEach((plane, i) => plane.fill(blacks[i] ?? 0));
      scaler.run(sourcePlanes, targetPlanes);
      if (blacks) blackBeside(targetPlanes, target, to, blacks);
    },
    free: scaler.free,
  };
}

/** The layout of the practice game's pictures: planes without padding, one after another. */
export const sourceLayout = (size: SizePx): PixelLayout => pixelLayout('yuv420p', size.widthPx, size.heightPx, false);
