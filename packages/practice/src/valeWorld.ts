import { randomStream } from '@mellow/core';
import type { PracticeGame } from '@mellow/model';
import { colourOf, createPicture, fillRect, mixColours, type Colour, type Picture420 } from './picture420';

/** Bound once: where modules run in a context of their own, each use of a global costs more than what it does here. */
const { abs, floor, max, min, round, sqrt } = Math;

/** The land of "Harrow Vale" from above, larger than the picture, in the light of day, rain and night. */
export interface ValeWorld {
  day: Picture420;
  rain: Picture420;
  night: Picture420;
}

interface Field {
  x: number;
  y: number;
  colour: Colour;
  /** Furrows: steps a pixel in x and y, and how deep they are. */
  stepX: number;
  stepY: number;
  depth: number;
}

const soils: readonly (readonly [hex: string, period: number, depth: number])[] = [
  ['#7FA05A', 46, 3],
  ['#8FB067', 0, 0],
  ['#C9A95C', 7, 9],
  ['#D8BE72', 5, 7],
  ['#8A6B4C', 9, 16],
  ['#6F9154', 60, 4],
  ['#B7B36A', 12, 8],
  ['#A07F56', 11, 13],
];
const hedge = colourOf('#4E6B3E');
const water = colourOf('#6C98A6');
const bank = colourOf('#B9AE86');
const road = colourOf('#D3C3A0');
const roofs = ['#B5654A', '#A5573F', '#8C5A4A', '#C07A55'].map(colourOf);

/** Renders the land once; `scale` is the height of the picture against 1080 lines. */
export function valeWorld(game: PracticeGame): ValeWorld {
  const scale = game.heightPx / 1080;
  const random = randomStream(game.seed ^ 0x41c6);
  const width = round(game.widthPx * 0.7) * 2;
  const height = round(game.heightPx * 0.65) * 2;
  const day = createPicture(width, height);
  drawFields(day, game, random, scale);
  const places = drawVillages(day, random, scale);
  return {
    day,
    rain: toned(day, (y) => 20 + (y - 16) * 0.62, 0.62, 3, 0),
    night: withLights(
      toned(day, (y) => 17 + (y - 16) * 0.3, 0.5, 9, -3),
      places,
      scale,
    ),
  };
}

/** What a spot of land is drawn as: a colour, lighter or darker, with furrows or ripples. */
interface Ground {
  colour: Colour;
  offset: number;
  stepX: number;
  stepY: number;
  depth: number;
}

/** Entries of a table of the sine to a turn. */
const sineSize = 1024;
const perRadian = sineSize / (2 * Math.PI);

function drawFields(land: Picture420, game: PracticeGame, random: () => number, scale: number): void {
  const { widthPx: w, heightPx: h } = land;
  const fields = createFields(w, h, 260 * scale, random);
  const noise = new Int8Array(1 << 16);
  for (let i = 0; i < noise.length; i++) noise[i] = (random() - 0.5) * 2 * (2 + 14 * game.detail);
  const clumps = new Int8Array(1 << 14);
  for (let i = 0; i < clumps.length; i++) clumps[i] = (random() - 0.5) * 28;
  const sine = new Float32Array(sineSize);
  for (let i = 0; i < sineSize; i++) sine[i] = Math.sin(i / perRadian);
  const roadAt = new Float32Array(w);
  for (let x = 0; x < w; x++) roadAt[x] = h * (0.43 + 0.05 * Math.sin((x / w) * 6.3) + 0.012 * Math.sin((x / w) * 21));
  const river: Ground = { colour: water, offset: 0, stepX: 3, stepY: 9, depth: 6 };
  const shore: Ground = { ...river, colour: bank, depth: 0 };
  const spot: Ground = { ...shore };
  for (let y = 0; y < h; y += 2) {
    const riverX = w * (0.62 + 0.09 * Math.sin((y / h) * 5.1) + 0.02 * Math.sin((y / h) * 17));
    const warpX = 14 * scale * sine[floor(y / scale) & (sineSize - 1)]!;
    for (let x = 0; x < w; x += 2) {
      const toRiver = abs(x - riverX);
      const toRoad = abs(y - roadAt[x]!);
      let ground: Ground = spot;
      if (toRiver < 30 * scale) ground = toRiver > 26 * scale ? shore : river;
      else if (toRoad < 13 * scale) {
        spot.colour = road;
        spot.offset = toRoad > 10 * scale ? -26 : 0;
        spot.depth = 0;
      } else {
        // A little warp, so that hedges are not ruled lines.
        const warpY = 12 * scale * sine[floor(x / scale) & (sineSize - 1)]!;
        fieldAt(spot, fields, x + warpX, y + warpY, 9 * scale, clumps[((x >> 2) * 13 + (y >> 2) * 131) & 0x3fff]!);
      }
      drawSpot(land, x, y, ground, noise, sine);
    }
  }
}

/** Two by two pixels of one ground. */
function drawSpot(
  land: Picture420,
  x: number,
  y: number,
  { colour, offset, stepX, stepY, depth }: Ground,
  noise: Int8Array,
  sine: Float32Array,
): void {
  const w = land.widthPx;
  const at = (y >> 1) * (w >> 1) + (x >> 1);
  land.u[at] = colour.u;
  land.v[at] = colour.v;
  for (let n = 0; n < 4; n++) {
    const px = x + (n & 1);
    const py = y + (n >> 1);
    const turn = floor(px * stepX + py * stepY) & (sineSize - 1);
    const luma = colour.y + offset + noise[(px * 37 + py * 911) & 0xffff]! + depth * sine[turn]!;
    land.y[py * w + px] = luma < 16 ? 16 : luma > 235 ? 235 : luma;
  }
}

/** Fields round points that stand one in each cell of a grid. */
interface Fields {
  list: readonly Field[];
  columns: number;
  rows: number;
  cell: number;
}

function createFields(w: number, h: number, cell: number, random: () => number): Fields {
  const columns = Math.ceil(w / cell) + 2;
  const rows = Math.ceil(h / cell) + 2;
  const scale = cell / 260;
  const list = Array.from({ length: columns * rows }, (_, i): Field => {
    const [hex, period, depth] = soils[floor(random() * soils.length)] ?? ['#7FA05A', 0, 0];
    const angle = random() * Math.PI;
    const turn = period ? sineSize / max(3, period * scale) : 0;
    return {
      x: ((i % columns) - 1 + 0.15 + 0.7 * random()) * cell,
      y: (floor(i / columns) - 1 + 0.15 + 0.7 * random()) * cell,
      colour: colourOf(hex),
      stepX: Math.cos(angle) * turn,
      stepY: Math.sin(angle) * turn,
      depth,
    };
  });
  return { list, columns, rows, cell };
}

/** The field whose point is nearest, or a hedge where another's is nearly as near. */
function fieldAt(spot: Ground, fields: Fields, x: number, y: number, hedgePx: number, clump: number): void {
  const { list, columns, rows, cell } = fields;
  const column = floor(x / cell) + 1;
  const row = floor(y / cell) + 1;
  let best = Infinity;
  let second = Infinity;
  let found = list[0]!;
  for (let r = max(0, row - 1); r <= min(rows - 1, row + 1); r++)
    for (let c = max(0, column - 1); c <= min(columns - 1, column + 1); c++) {
      const field = list[r * columns + c]!;
      const dx = field.x - x;
      const dy = field.y - y;
      const square = dx * dx + dy * dy;
      if (square < best) {
        second = best;
        best = square;
        found = field;
      } else if (square < second) second = square;
    }
  const gap = sqrt(second) - sqrt(best);
  if (gap < hedgePx) {
    spot.colour = hedge;
    spot.offset = clump - (gap < hedgePx / 3 ? 10 : 0);
    spot.depth = 0;
    return;
  }
  spot.colour = found.colour;
  spot.offset = gap < hedgePx * 1.7 ? -14 : 0;
  spot.stepX = found.stepX;
  spot.stepY = found.stepY;
  spot.depth = found.depth;
}

/** Houses in three places, each with a lit and a dark half of its roof; @returns where they stand. */
function drawVillages(land: Picture420, random: () => number, scale: number): [number, number][] {
  const houses: [number, number][] = [];
  const even = (n: number): number => round(n / 2) * 2;
  for (let village = 0; village < 3; village++) {
    const cx = land.widthPx * (0.18 + 0.31 * village + 0.06 * random());
    const cy = land.heightPx * (0.3 + 0.4 * random());
    for (let i = 0; i < 9; i++) {
      const x = even(cx + (random() - 0.5) * 330 * scale);
      const y = even(cy + (random() - 0.5) * 220 * scale);
      const [wide, high] = [even((34 + 26 * random()) * scale), even((26 + 14 * random()) * scale)];
      const roof = roofs[floor(random() * roofs.length)] ?? hedge;
      fillRect(
        land,
        x + even(6 * scale),
        y + even(6 * scale),
        wide,
        high,
        mixColours(hedge, { y: 40, u: 126, v: 128 }, 0.7),
      );
      fillRect(land, x, y, wide, high >> 1, mixColours(roof, { y: 210, u: 122, v: 136 }, 0.16));
      fillRect(land, x, y + even(high / 2), wide, high >> 1, mixColours(roof, { y: 30, u: 128, v: 132 }, 0.18));
      houses.push([x + wide / 2, y + high / 2]);
    }
  }
  return houses;
}

/** The same land in another light. */
function toned(land: Picture420, luma: (y: number) => number, colour: number, u: number, v: number): Picture420 {
  const out = createPicture(land.widthPx, land.heightPx);
  const table = new Uint8Array(256).map((_, y) => clampLuma(luma(y)));
  for (let i = 0; i < land.y.length; i++) out.y[i] = table[land.y[i]!]!;
  for (let i = 0; i < land.u.length; i++) {
    out.u[i] = 128 + (land.u[i]! - 128) * colour + u;
    out.v[i] = 128 + (land.v[i]! - 128) * colour + v;
  }
  return out;
}

/** Lamps at the houses: a warm light that falls off with the distance. */
function withLights(land: Picture420, places: readonly (readonly [number, number])[], scale: number): Picture420 {
  const reach = round(52 * scale) * 2;
  const lit = new Float32Array((land.widthPx * land.heightPx) >> 2);
  for (const [x0, y0] of places)
    for (let y = max(0, (y0 - reach) & ~1); y < min(land.heightPx, y0 + reach); y += 2)
      for (let x = max(0, (x0 - reach) & ~1); x < min(land.widthPx, x0 + reach); x += 2) {
        const at = (y >> 1) * (land.widthPx >> 1) + (x >> 1);
        lit[at] = max(lit[at] ?? 0, max(0, 1 - sqrt((x - x0) ** 2 + (y - y0) ** 2) / reach) ** 2);
      }
  lit.forEach((light, at) => {
    if (light <= 0) return;
    const x = (at % (land.widthPx >> 1)) * 2;
    const y = floor(at / (land.widthPx >> 1)) * 2;
    for (const corner of [0, 1, land.widthPx, land.widthPx + 1]) {
      const pixel = y * land.widthPx + x + corner;
      land.y[pixel] = clampLuma((land.y[pixel] ?? 16) * (1 + 1.5 * light) + 12 * light);
    }
    land.u[at] = (land.u[at] ?? 128) - 14 * light;
    land.v[at] = (land.v[at] ?? 128) + 11 * light;
  });
  return land;
}

function clampLuma(y: number): number {
  return max(16, min(235, round(y)));
}
