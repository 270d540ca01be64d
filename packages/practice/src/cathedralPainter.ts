import { randomStream } from '@mellow/core';
import type { PracticeGame } from '@mellow/model';
import { floorTexels, wallRowMask, type CathedralTextures, type GroundLevel } from './cathedralTextures';
import { eyeHeight, halfView, roomHeight, shadeOf, shades, type Columns, type View } from './cathedralView';
import type { Picture420 } from './picture420';

/** Bound once: where modules run in a context of their own, each use of a global costs more than what it does here. */
const { floor, max, min, round } = Math;

type Pixels = Uint16Array | Uint32Array;
const pairsOf = (bytes: Uint8Array): Uint16Array => new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length >> 1);
const wordsOf = (bytes: Uint8Array): Uint32Array => new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2);

/** Ground from so many cells on is drawn from a coarser picture of it, as its texels are smaller than pixels there. */
const coarseFrom = 3.5;

/**
 * Paints walls, floor and ceiling by rows from top to bottom, so that memory is written in order. One value of luma serves two
 * by two pixels, one of colour four by four; grain over it keeps the picture as fine as its size.
 *
 * All arrays are constants of this closure: the engine then builds their places into the loops, which halves the time a pixel.
 */
export function createPainter(game: PracticeGame, textures: CathedralTextures, columns: Columns) {
  const half = game.widthPx >> 1;
  const { edges, startTexel, texelsPerRow, texel, shade } = columns;
  const { wallLuma, wallU, wallV, ground } = textures;
  const lumaTable = lumaPairs();
  const colourTable = colours();
  // Rows are written four pixels at a time, or two where the width is not a multiple of four.
  const unit = game.widthPx % 4 ? pairsOf : wordsOf;
  const line = new Uint8Array(game.widthPx);
  const pairs = pairsOf(line);
  const row = unit(line);
  const grain = unit(grainOf(game));

  function paintLuma(y: number, above: boolean, view: View): void {
    const flip = above ? 0 : -1;
    const edge = above ? 0 : half;
    const span = groundSpan(view, y, above, half);
    const level: GroundLevel = textures.levels[above ? 1 : 0]![span.distance < coarseFrom ? 0 : 1]!;
    const { base, texelShift, blockShift, columnMask, rowShift, rowMask } = level;
    const groundShade = span.shade << 8;
    const stepX = span.stepX | 0;
    const stepY = span.stepY | 0;
    let gx = span.fromX | 0;
    let gy = span.fromY | 0;
    for (let c = 0; c < half; c++) {
      // Above the horizon ground lies before the wall's edge, below it behind: one sign turns the question round.
      const value =
        ((y - edges[edge + c]!) ^ flip) < 0
          ? groundShade +
            ground[
              base +
                (((gy >> rowShift) & rowMask) |
                  ((gx >> blockShift) & columnMask) |
                  ((gy >> blockShift) & 56) |
                  ((gx >> texelShift) & 7))
            ]!
          : shade[c]! + wallLuma[texel[c]! + (((startTexel[c]! + y * texelsPerRow[c]!) >> 9) & wallRowMask)]!;
      pairs[c] = lumaTable[value]!;
      gx = (gx + stepX) | 0;
      gy = (gy + stepY) | 0;
    }
  }

  function paintColours(u: Uint8Array, v: Uint8Array, base: number, y: number, above: boolean): void {
    const flip = above ? 0 : -1;
    const edge = above ? 0 : half;
    u.fill(above ? 129 : 124, base, base + half);
    v.fill(above ? 129 : 132, base, base + half);
    for (let c = 0; c < half; c += 2) {
      if (((y - edges[edge + c]!) ^ flip) < 0) continue;
      const at = texel[c]! + (((startTexel[c]! + y * texelsPerRow[c]!) >> 9) & wallRowMask);
      const tone = shade[c]!;
      // Beyond an odd end lies the next row, which is painted afterwards.
      u[base + c] = u[base + c + 1] = colourTable[tone + wallU[at]!]!;
      v[base + c] = v[base + c + 1] = colourTable[tone + wallV[at]!]!;
    }
  }

  /** Writes the line twice, with grain on it, while it still lies in the nearest cache. Each row begins at another place of the grain. */
  function writeLines(into: Pixels, y: number, slot: number): void {
    const length = row.length;
    const upper = y * length;
    const lower = upper + length;
    const upperGrain = grainFrom(y, slot);
    const lowerGrain = grainFrom(y + 1, slot);
    for (let i = 0; i < length; i++) {
      const value = row[i]!;
      into[upper + i] = value + grain[upperGrain + i]!;
      into[lower + i] = value + grain[lowerGrain + i]!;
    }
  }

  const grainFrom = (y: number, slot: number): number =>
    (Math.imul(slot * 4099 + y, 0x9e3779b1) >>> 9) % (grain.length - row.length);

  return {
    paint(target: Picture420, view: View, slot: number): void {
      const into = unit(target.y);
      for (let y = 0; y < target.heightPx; y += 2) {
        const above = y < view.horizon;
        paintLuma(y, above, view);
        writeLines(into, y, slot);
        const colourRow = (y >> 1) * half;
        if (y & 2) {
          target.u.copyWithin(colourRow, colourRow - half, colourRow);
          target.v.copyWithin(colourRow, colourRow - half, colourRow);
        } else paintColours(target.u, target.v, colourRow, y, above);
      }
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

function groundSpan(view: View, y: number, above: boolean, half: number): GroundSpan {
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

/** Luma of two pixels side by side, by step of darkness and texel. */
function lumaPairs(): Uint16Array {
  return Uint16Array.from({ length: shades * 256 }, (_, i) => {
    const light = 1 - (i >> 8) / (shades - 1);
    return max(18, min(216, round(19 + ((i & 255) - 16) * light))) * 257;
  });
}

/** Colour by step of darkness and texel: paler in the dark. */
function colours(): Uint8Array {
  return Uint8Array.from({ length: shades * 256 }, (_, i) => {
    const light = 1 - (i >> 8) / (shades - 1);
    return round(128 + ((i & 255) - 128) * (0.25 + 0.75 * light));
  });
}

/** Film grain: more with more detail. Added several pixels at a time: luma leaves room for it, so no byte runs over. */
function grainOf(game: PracticeGame): Uint8Array {
  const random = randomStream(game.seed ^ 0x6b2f);
  const most = 3 + Math.round(11 * game.detail);
  return Uint8Array.from({ length: 1 << 15 }, () => floor((random() + random()) * 0.5 * most));
}
