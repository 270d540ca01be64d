import { randomStream } from '@mellow/core';
import { plan, planSide } from './cathedralMap';

/** Bound once: where modules run in a context of their own, each use of a global costs more than what it does here. */
const { cos, floor, max, min, round, sin, sqrt, abs } = Math;

/** Texels along a side of a wall, and of a cell of floor or ceiling. */
export const wallTexels = 128;
/** Leaves the row in a place of a wall's texture whose rows are 128 apart. */
export const wallRowMask = 127 << 7;
export const floorTexels = 32;
/** A power of two, so that a place outside the plan falls on some other place and needs no test. */
export const groundSide = 1024;
/** Texels of the plan itself; what lies beyond is never seen, as walls stand round it. */
const planTexels = planSide * floorTexels;

interface WallTexture {
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
}

/**
 * Where a picture of the ground lies among them, and how a place in 1/65536 of a fine texel becomes an index in it. Texels
 * lie in blocks of 8 by 8, a line of the cache each: a row of the picture crosses the ground in any direction, and by rows of
 * texels it would meet another line of the cache with every step.
 */
export interface GroundLevel {
  base: number;
  /** Texel within its block: across by `texelShift`, down by `blockShift`, which also gives the block across. */
  texelShift: number;
  blockShift: number;
  columnMask: number;
  rowShift: number;
  rowMask: number;
}

/** Index of a texel in blocks of 8 by 8. @param side texels to a side of the ground, a power of two */
const inBlocks = (x: number, y: number, side: number): number =>
  (y >> 3) * side * 8 + (x >> 3) * 64 + (y & 7) * 8 + (x & 7);

export interface CathedralTextures {
  /** Walls by kind of cell (1 to 4), one after the other: luma and colours, by rows. */
  wallLuma: Uint8Array;
  wallU: Uint8Array;
  wallV: Uint8Array;
  /** Floor and ceiling of the whole building with the light of the lamps in them. */
  ground: Uint8Array;
  /** Of floor and ceiling, fine and coarse. */
  levels: readonly (readonly [fine: GroundLevel, coarse: GroundLevel])[];
  /** Light 0 to 1 on each texel of the ground. */
  light: Float32Array;
}

/** Lamps hang over these cells. */
const lamps: readonly (readonly [number, number])[] = [
  [1, 4],
  [6, 1],
  [10, 5],
  [13, 10],
  [18, 7],
  [18, 15],
  [14, 18],
  [8, 18],
  [10, 14],
  [6, 12],
  [3, 10],
  [10, 10],
  [7, 7],
  [13, 13],
];

export function cathedralTextures(seed: number, detail: number): CathedralTextures {
  const random = randomStream(seed ^ 0x7c1d);
  const rough = 8 + 34 * detail;
  const light = lightMap();
  const stone = noiseOf(random);
  const ground = (base: number, joint: number, sizeTexels: number): Uint8Array => {
    const out = new Uint8Array(groundSide * groundSide);
    for (let y = 0; y < planTexels; y++)
      for (let x = 0; x < planTexels; x++) {
        const atJoint = x % sizeTexels < 2 || (y + (floor(x / sizeTexels) % 2) * (sizeTexels >> 1)) % sizeTexels < 2;
        const tile = ((floor(x / sizeTexels) * 31 + floor(y / sizeTexels) * 17) % 7) * 3;
        const luma = base + tile + (stone(x, y) - 0.5) * rough - (atJoint ? joint : 0);
        out[y * groundSide + x] = clamp(16 + max(0, luma - 16) * (light[y * groundSide + x] ?? 0));
      }
    return out;
  };
  const walls = [plates(random, rough), ribs(random, rough), windows(random, rough), columns(random, rough)];
  const together = (plane: keyof WallTexture): Uint8Array => {
    const size = wallTexels * wallTexels;
    const all = new Uint8Array(5 * size);
    walls.forEach((wall, i) => all.set(wall[plane], (i + 1) * size));
    return all;
  };
  return {
    wallLuma: together('y'),
    wallU: together('u'),
    wallV: together('v'),
    ...levelsOf([ground(120, 44, 16), ground(88, 30, 32)]),
    light,
  };
}

/** Each fine picture of the ground and a coarse one of a quarter of its side, whose texels are the means of 4 by 4. */
function levelsOf(fines: readonly Uint8Array[]): Pick<CathedralTextures, 'ground' | 'levels'> {
  const [fineSize, side] = [groundSide * groundSide, groundSide >> 2];
  const size = fineSize + side * side;
  const ground = new Uint8Array(fines.length * size);
  const levels = fines.map((fine, i) => {
    const base = i * size;
    for (let y = 0; y < groundSide; y++)
      for (let x = 0; x < groundSide; x++) ground[base + inBlocks(x, y, groundSide)] = fine[y * groundSide + x]!;
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        let sum = 0;
        for (let dy = 0; dy < 4; dy++)
          for (let dx = 0; dx < 4; dx++) sum += fine[(y * 4 + dy) * groundSide + x * 4 + dx] ?? 0;
        ground[base + fineSize + inBlocks(x, y, side)] = sum / 16;
      }
    return [levelAt(base, 0), levelAt(base + fineSize, 2)] as const;
  });
  return { ground, levels };
}

/** @param coarser log2 of how many fine texels a side of one here stands for */
function levelAt(base: number, coarser: number): GroundLevel {
  const bits = 10 - coarser;
  const texelShift = 16 + coarser;
  return {
    base,
    texelShift,
    blockShift: texelShift - 3,
    columnMask: (2 ** (bits - 3) - 1) << 6,
    rowShift: texelShift - bits,
    rowMask: (2 ** (bits - 3) - 1) << (bits + 3),
  };
}

/** Light falls off with the square of the distance from a lamp; the same for two by two texels. */
function lightMap(): Float32Array {
  const light = new Float32Array(groundSide * groundSide);
  for (let y = 0; y < planTexels; y += 2)
    for (let x = 0; x < planTexels; x += 2) {
      let sum = 0.16;
      for (const [lx, ly] of lamps) {
        const dx = x / floorTexels - lx - 0.5;
        const dy = y / floorTexels - ly - 0.5;
        const square = dx * dx + dy * dy;
        if (square < 16) sum += 0.95 / (1 + 1.1 * square);
      }
      const value = min(1.15, sum);
      const at = y * groundSide + x;
      light[at] = light[at + 1] = light[at + groundSide] = light[at + groundSide + 1] = value;
    }
  return light;
}

const tileSide = 256;

/** Value noise in three octaves, 0 to 1: a tile made once that repeats after 256 texels. */
function noiseOf(random: () => number): (x: number, y: number) => number {
  const tile = new Float32Array(tileSide * tileSide);
  for (const [grid, share] of [
    [8, 0.5],
    [4, 0.3],
    [1, 0.2],
  ] as const)
    addOctave(tile, random, grid, share);
  return (x, y) => tile[(y & (tileSide - 1)) * tileSide + (x & (tileSide - 1))]!;
}

/** Adds random values on a grid, blended between its points. */
function addOctave(tile: Float32Array, random: () => number, grid: number, share: number): void {
  const side = tileSide / grid;
  const values = Float32Array.from({ length: side * side }, random);
  for (let y = 0; y < tileSide; y++) {
    const y0 = floor(y / grid);
    const upperRow = y0 * side;
    const lowerRow = ((y0 + 1) % side) * side;
    const fy = (y % grid) / grid;
    for (let x = 0; x < tileSide; x++) {
      const x0 = floor(x / grid);
      const x1 = (x0 + 1) % side;
      const fx = (x % grid) / grid;
      const upper = values[upperRow + x0]! + (values[upperRow + x1]! - values[upperRow + x0]!) * fx;
      const lower = values[lowerRow + x0]! + (values[lowerRow + x1]! - values[lowerRow + x0]!) * fx;
      tile[y * tileSide + x] = tile[y * tileSide + x]! + share * (upper + (lower - upper) * fy);
    }
  }
}

type Shade = (x: number, y: number) => readonly [y: number, u: number, v: number];

function wallOf(shade: Shade): WallTexture {
  const size = wallTexels * wallTexels;
  const texture = { y: new Uint8Array(size), u: new Uint8Array(size), v: new Uint8Array(size) };
  for (let x = 0; x < wallTexels; x++)
    for (let y = 0; y < wallTexels; y++) {
      const [luma, u, v] = shade(x, y);
      const at = y * wallTexels + x;
      texture.y[at] = clamp(luma);
      texture.u[at] = u;
      texture.v[at] = v;
    }
  return texture;
}

/** Tin plates with rivets along their seams. */
function plates(random: () => number, rough: number): WallTexture {
  const noise = noiseOf(random);
  return wallOf((x, y) => {
    const [px, py] = [x % 64, y % 42];
    const seam = px < 2 || py < 2 ? -46 : px < 4 || py < 4 ? 26 : 0;
    const rivet = ((px % 16) - 8) ** 2 + (py - 7) ** 2 < 5.8 ? 40 : 0;
    const rust = noise(x * 0.6, y * 0.6) > 0.66 ? -18 : 0;
    return [112 + (noise(x, y) - 0.5) * 2 * rough + seam + rivet + rust, rust ? 117 : 124, rust ? 138 : 131];
  });
}

/** Upright ribs, lit from one side, with streaks that ran down them. */
function ribs(random: () => number, rough: number): WallTexture {
  const noise = noiseOf(random);
  return wallOf((x, y) => {
    const across = sin(((x % 16) / 16) * 2 * Math.PI);
    const streak = (noise(x * 2, y * 0.1) - 0.5) * rough;
    return [96 + 34 * across + streak + (noise(x, y) - 0.5) * rough, 127, 130];
  });
}

/** A window of coloured panes in a pointed arch; the panes shine by themselves. */
function windows(random: () => number, rough: number): WallTexture {
  const noise = noiseOf(random);
  const tints = Array.from({ length: 40 }, () => [96 + random() * 70, 88 + random() * 80] as const);
  return wallOf((x, y) => {
    const half = y > 52 ? 34 : sqrt(max(0, 34 ** 2 - ((52 - y) * 1.05) ** 2));
    const inside = abs(x - 64) < half && y > 14 && y < 108;
    if (!inside) return [98 + (noise(x, y) - 0.5) * 2 * rough, 127, 130];
    const lead = x % 12 < 2 || (y + (floor(x / 12) % 2) * 7) % 14 < 2;
    const [u, v] = tints[(floor(x / 12) * 5 + floor((y + (floor(x / 12) % 2) * 7) / 14) * 3) % 40] ?? [128, 128];
    return lead ? [30, 128, 128] : [172 + (noise(x, y) - 0.5) * 40, u, v];
  });
}

/** Columns of stacked drums. */
function columns(random: () => number, rough: number): WallTexture {
  const noise = noiseOf(random);
  return wallOf((x, y) => {
    const round = cos(((x - 64) / 64) * 1.35);
    const drum = y % 32 < 2 ? -40 : y % 32 < 4 ? 24 : 0;
    return [56 + 96 * round + drum + (noise(x, y) - 0.5) * 1.6 * rough, 125, 133];
  });
}

/** The light at a place of the ground, 0 to 1.15. */
export const lightAt = (light: Float32Array, x: number, y: number): number =>
  light[
    max(0, min(groundSide - 1, floor(y * floorTexels))) * groundSide +
      max(0, min(groundSide - 1, floor(x * floorTexels)))
  ] ?? 0;

export const solidAt = (x: number, y: number): number =>
  x < 0 || y < 0 || x >= planSide || y >= planSide ? 1 : (plan[y * planSide + x] ?? 1);

function clamp(y: number): number {
  return max(20, min(214, round(y)));
}
