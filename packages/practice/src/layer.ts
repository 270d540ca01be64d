import { createPicture, type Colour, type Picture420 } from './picture420';

/**
 * A pre-rendered layer or sprite: a picture with, for each pair of rows, the runs of columns that are opaque.
 * Runs stand on even columns, so that one run serves luma and colour alike and is copied in one piece.
 */
export interface Layer {
  picture: Picture420;
  /** Per pair of rows: start and end columns, flat. */
  runs: Uint16Array[];
}

/**
 * Renders a layer once. `shade` gives the colour at a pixel, null where it is clear.
 * Opacity is decided for 2x2 blocks.
 */
export function renderLayer(widthPx: number, heightPx: number, shade: (x: number, y: number) => Colour | null): Layer {
  const picture = createPicture(widthPx, heightPx);
  const runs: Uint16Array[] = [];
  for (let y = 0; y < heightPx; y += 2) {
    const row: number[] = [];
    let open = -1;
    for (let x = 0; x < widthPx; x += 2) {
      const corner = shade(x, y);
      if (!corner) {
        if (open >= 0) row.push(open, x);
        open = -1;
        continue;
      }
      if (open < 0) open = x;
      for (let dy = 0; dy < 2; dy++) {
        for (let dx = 0; dx < 2; dx++) {
          const colour = dx || dy ? (shade(x + dx, y + dy) ?? corner) : corner;
          picture.y[(y + dy) * widthPx + x + dx] = colour.y;
        }
      }
      const at = ((y >> 1) * widthPx) / 2 + (x >> 1);
      picture.u[at] = corner.u;
      picture.v[at] = corner.v;
    }
    if (open >= 0) row.push(open, widthPx);
    runs.push(Uint16Array.from(row));
  }
  return { picture, runs };
}

/** Draws a layer with its upper left corner at (x, y), both even; cut off at the edges. */
export function drawLayer(target: Picture420, layer: Layer, x: number, y: number): void {
  const { picture, runs } = layer;
  const firstPair = Math.max(0, -(y >> 1));
  const lastPair = Math.min(runs.length, (target.heightPx - y) >> 1);
  for (let pair = firstPair; pair < lastPair; pair++) {
    const row = runs[pair];
    if (!row) continue;
    for (let i = 0; i < row.length; i += 2) {
      const start = Math.max(row[i] ?? 0, -x);
      const end = Math.min(row[i + 1] ?? 0, target.widthPx - x);
      if (end > start) copyRun(target, picture, pair, start, end, x, y);
    }
  }
}

function copyRun(
  target: Picture420,
  from: Picture420,
  pair: number,
  start: number,
  end: number,
  x: number,
  y: number,
): void {
  for (let line = 0; line < 2; line++) {
    const source = (pair * 2 + line) * from.widthPx;
    target.y.set(from.y.subarray(source + start, source + end), (y + pair * 2 + line) * target.widthPx + x + start);
  }
  const source = (pair * from.widthPx) / 2;
  const into = (((y >> 1) + pair) * target.widthPx) / 2 + ((x + start) >> 1);
  target.u.set(from.u.subarray(source + (start >> 1), source + (end >> 1)), into);
  target.v.set(from.v.subarray(source + (start >> 1), source + (end >> 1)), into);
}

/** Draws a layer that repeats sideways, scrolled by `offsetPx` (rounded to even columns). */
export function drawScrolled(target: Picture420, layer: Layer, offsetPx: number, y: number): void {
  const width = layer.picture.widthPx;
  const offset = (((Math.floor(offsetPx) % width) + width) % width) & ~1;
  for (let x = -offset; x < target.widthPx; x += width) drawLayer(target, layer, x, y);
}
