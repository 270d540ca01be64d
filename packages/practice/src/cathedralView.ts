import { lightAt, solidAt, wallTexels } from './cathedralTextures';

/** Bound once: where modules run in a context of their own, each use of a global costs more than what it does here. */
const { abs, ceil, floor, max, min, round } = Math;

/** Height of the rooms and of the eye above the floor, in cells. */
export const roomHeight = 1.45;
export const eyeHeight = 0.62;
/** Half the angle of view across, as its tangent. */
export const halfView = 0.66;
/** Steps of darkness by distance and light. */
export const shades = 48;

/** Where the walker stands and looks, the row of the horizon, and steps of darkness more while the lamps flicker. */
export interface View {
  x: number;
  y: number;
  angle: number;
  horizon: number;
  darker: number;
}

/** What stands in each pair of columns of the picture. */
export interface Columns {
  /** Rows at which the wall begins and ends: all upper edges, then all lower ones. */
  edges: Int32Array;
  /** Row of the texture at the picture's upper edge, and rows of it to a row of the picture; 1/65536. */
  startTexel: Int32Array;
  texelsPerRow: Int32Array;
  /** Index of the texture's column. */
  texel: Int32Array;
  /** Darkness x 256, an index into a table of it. */
  shade: Int32Array;
}

/** Columns of a picture `2 * half` wide that lie in a memory. @param at where each begins, bytes */
export function columnsOver(memory: ArrayBuffer, half: number, at: Record<keyof Columns, number>): Columns {
  const over = (place: number, length: number): Int32Array => new Int32Array(memory, place, length);
  return {
    edges: over(at.edges, 2 * half),
    startTexel: over(at.startTexel, half),
    texelsPerRow: over(at.texelsPerRow, half),
    texel: over(at.texel, half),
    shade: over(at.shade, half),
  };
}

/** Step of darkness of a place: its light, thinned by the fog up to it. */
export function shadeOf(light: number, distance: number, darker: number): number {
  const seen = light / (1 + 0.051 * distance * distance);
  return max(0, min(shades - 1, round((1 - min(1, seen)) * (shades - 1)) + darker));
}

/** Walks a ray through the plan for each pair of columns (grid walk of Amanatides and Woo, 1987). */
export function castColumns(
  columns: Columns,
  light: Float32Array,
  w: number,
  h: number,
  { x, y, angle, horizon, darker }: View,
): void {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const rowsPerCell = w / 2 / halfView;
  const half = w >> 1;
  for (let c = 0; c < half; c++) {
    const across = (2 * (c + 0.5)) / half - 1;
    const dx = cos - sin * across * halfView;
    const dy = sin + cos * across * halfView;
    let [cellX, cellY] = [floor(x), floor(y)];
    const [stepX, stepY] = [dx < 0 ? -1 : 1, dy < 0 ? -1 : 1];
    const [perX, perY] = [abs(1 / dx), abs(1 / dy)];
    let nextX = (dx < 0 ? x - cellX : cellX + 1 - x) * perX;
    let nextY = (dy < 0 ? y - cellY : cellY + 1 - y) * perY;
    let distance = 0;
    let upright = false;
    let kind = 0;
    for (let step = 0; step < 64 && !kind; step++) {
      upright = nextX < nextY;
      if (upright) {
        distance = nextX;
        nextX += perX;
        cellX += stepX;
      } else {
        distance = nextY;
        nextY += perY;
        cellY += stepY;
      }
      kind = solidAt(cellX, cellY);
    }
    distance = max(0.05, distance);
    const [hitX, hitY] = [x + dx * distance, y + dy * distance];
    const along = upright ? hitY : hitX;
    const perCell = rowsPerCell / distance;
    const above = (roomHeight - eyeHeight) * perCell;
    const below = eyeHeight * perCell;
    columns.edges[c] = max(0, ceil(horizon - above));
    columns.edges[half + c] = min(h, ceil(horizon + below));
    const perRow = round(((wallTexels - 0.01) * 65536) / (above + below));
    columns.texelsPerRow[c] = perRow;
    columns.startTexel[c] = round((above - horizon) * perRow);
    columns.texel[c] = kind * wallTexels * wallTexels + floor((along - floor(along)) * wallTexels);
    const lit = lightAt(light, hitX - dx * 0.08, hitY - dy * 0.08) * (upright ? 1 : 0.82);
    columns.shade[c] =
      (kind === 3 ? min(shades - 1, shadeOf(max(0.85, lit), distance, 0)) : shadeOf(lit, distance, darker)) * 256;
  }
}
