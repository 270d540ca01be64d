import { randomStream } from '@mellow/core';
import type { PracticeGame } from '@mellow/model';
import { openPainterMemory } from './cathedralKernel';
import { floorTexels, type CathedralTextures, type GroundLevel } from './cathedralTextures';
import { eyeHeight, halfView, roomHeight, shadeOf, shades, type Columns, type View } from './cathedralView';
import type { Picture420 } from './picture420';

const { floor, max, min, round } = Math;

/** Ground from so many cells on is drawn from a coarser picture of it, as its texels are smaller than pixels there. */
export const coarseFrom = 3.5;

/** Paints walls, floor and ceiling behind the columns that were cast. */
export interface CathedralPainter {
  columns: Columns;
  paint(target: Picture420, view: View, slot: number): void;
}

/**
 * Paints by rows from top to bottom, so that memory is written in order. One value of luma serves two by two pixels, one of
 * colour four by four; grain over it keeps the picture as fine as its size. Each row begins at another place of the grain.
 */
export function createPainter(game: PracticeGame, textures: CathedralTextures): CathedralPainter {
  const { widthPx, heightPx } = game;
  const half = widthPx >> 1;
  const grain = grainOf(game);
  const {
    kernel,
    columns,
    y: luma,
    u,
    v,
  } = openPainterMemory(widthPx, heightPx, {
    ...textures,
    darkened: darkened(),
    colours: colours(),
    grain,
  });
  /** Grain is taken from whole steps of four bytes, or two where the width is not a multiple of four. */
  const step = widthPx % 4 ? 2 : 4;
  const beginnings = (grain.length - widthPx) / step;
  const grainFrom = (y: number, slot: number): number =>
    ((Math.imul(slot * 4099 + y, 0x9e3779b1) >>> 9) % beginnings) * step;

  function paintLuma(y: number, above: boolean, view: View, slot: number): void {
    const span = groundSpan(view, y, above, half);
    const level: GroundLevel = textures.levels[above ? 1 : 0]![span.distance < coarseFrom ? 0 : 1]!;
    const { base, texelShift, blockShift, columnMask, rowShift, rowMask } = level;
    kernel.paintLuma(
      y,
      Number(above),
      span.fromX,
      span.fromY,
      span.stepX,
      span.stepY,
      span.shade << 8,
      base,
      texelShift,
      blockShift,
      columnMask,
      rowShift,
      rowMask,
      grainFrom(y, slot),
      grainFrom(y + 1, slot),
    );
  }

  return {
    columns,
    paint(target, view, slot) {
      for (let y = 0; y < heightPx; y += 2) {
        const above = y < view.horizon;
        paintLuma(y, above, view, slot);
        if (y & 2) kernel.repeatColours(y);
        else kernel.paintColours(y, Number(above));
      }
      target.y.set(luma);
      target.u.set(u);
      target.v.set(v);
    },
  };
}

/** Where a row of floor or ceiling begins on the ground, its step a pair of columns (1/65536 texel), and its darkness. */
interface GroundSpan {
  fromX: number;
  fromY: number;
  stepX: number;
  stepY: number;
  shade: number;
  /** Cells from the eye. */
  distance: number;
}

export function groundSpan(view: View, y: number, above: boolean, half: number): GroundSpan {
  const offset = above ? view.horizon - y : y - view.horizon + 1;
  const distance = ((above ? roomHeight - eyeHeight : eyeHeight) * half) / halfView / offset;
  const [cos, sin] = [Math.cos(view.angle), Math.sin(view.angle)];
  const scale = floorTexels * 65536;
  const stepX = Math.round((-sin * halfView * distance * 2 * scale) / half);
  const stepY = Math.round((cos * halfView * distance * 2 * scale) / half);
  return {
    fromX: Math.round((view.x + cos * distance) * scale - (stepX * (half - 1)) / 2),
    fromY: Math.round((view.y + sin * distance) * scale - (stepY * (half - 1)) / 2),
    stepX,
    stepY,
    shade: shadeOf(1, Math.min(60, distance), view.darker),
    distance,
  };
}

/** Luma by step of darkness and texel. */
export function darkened(): Uint8Array {
  return Uint8Array.from({ length: shades * 256 }, (_, i) => {
    const light = 1 - (i >> 8) / (shades - 1);
    return max(18, min(216, round(19 + ((i & 255) - 16) * light)));
  });
}

/** Colour by step of darkness and texel: paler in the dark. */
export function colours(): Uint8Array {
  return Uint8Array.from({ length: shades * 256 }, (_, i) => {
    const light = 1 - (i >> 8) / (shades - 1);
    return round(128 + ((i & 255) - 128) * (0.25 + 0.75 * light));
  });
}

/** Film grain: more with more detail. Added several pixels at a time: luma leaves room for it, so no byte runs over. */
export function grainOf(game: PracticeGame): Uint8Array {
  const random = randomStream(game.seed ^ 0x6b2f);
  const most = 3 + Math.round(11 * game.detail);
  return Uint8Array.from({ length: 1 << 15 }, () => floor((random() + random()) * 0.5 * most));
}
