/** Rows of walls, floor and ceiling of "Tin Cathedral", from tables and columns that lie in this memory. */

/** Leaves the row in a place of a wall's texture whose rows are 128 apart. */
const wallRowMask: i32 = 127 << 7;

let widthPx: i32 = 0;
let half: i32 = 0;
let groundAt: usize = 0;
let wallLumaAt: usize = 0;
let wallColoursAt: usize = 0;
let darkenedAt: usize = 0;
let coloursAt: usize = 0;
let grainAt: usize = 0;
let edgesAt: usize = 0;
let startTexelAt: usize = 0;
let texelsPerRowAt: usize = 0;
let texelAt: usize = 0;
let shadeAt: usize = 0;
let lineAt: usize = 0;
let lumaAt: usize = 0;
let blueAt: usize = 0;
let redAt: usize = 0;

/** Where tables lie, which stay the same from picture to picture. @param wallColours both colours of a texel side by side */
export function tables(
  width: i32,
  ground: usize,
  wallLuma: usize,
  wallColours: usize,
  darkened: usize,
  colours: usize,
  grain: usize,
): void {
  widthPx = width;
  half = width >> 1;
  groundAt = ground;
  wallLumaAt = wallLuma;
  wallColoursAt = wallColours;
  darkenedAt = darkened;
  coloursAt = colours;
  grainAt = grain;
}

/** Where the columns of a picture lie, and the picture; a line of luma, a value for two pixels, is painted at `line` first. */
export function places(
  edges: usize,
  startTexel: usize,
  texelsPerRow: usize,
  texel: usize,
  shade: usize,
  line: usize,
  luma: usize,
  blue: usize,
  red: usize,
): void {
  edgesAt = edges;
  startTexelAt = startTexel;
  texelsPerRowAt = texelsPerRow;
  texelAt = texel;
  shadeAt = shade;
  lineAt = line;
  lumaAt = luma;
  blueAt = blue;
  redAt = red;
}

// @ts-ignore: a decorator
@inline
function wallPlace(column: usize, y: i32): i32 {
  const row = load<i32>(startTexelAt + column) + y * load<i32>(texelsPerRowAt + column);
  return load<i32>(texelAt + column) + ((row >> 9) & wallRowMask);
}

// @ts-ignore: a decorator
@inline
function wallLumaOf(column: usize, y: i32): u8 {
  const value = load<i32>(shadeAt + column) + <i32>load<u8>(wallLumaAt + wallPlace(column, y));
  return load<u8>(darkenedAt + value);
}

// @ts-ignore: a decorator
@inline
function byteAt(table: usize, place: i32, lane: i32): u32 {
  return <u32>load<u8>(darkenedAt + table + load<u8>(place)) << (lane << 3);
}

/**
 * Two rows of luma, alike but for the grain. A value serves two by two pixels; above the horizon ground lies before the edge
 * of the wall, below it behind. Four columns at once, where they are of one kind.
 * @param shade darkness of the ground, an index into the table of luma
 * @param upperGrain where the grain of the upper row begins, bytes
 */
export function paintLuma(
  y: i32,
  above: bool,
  fromX: i32,
  fromY: i32,
  stepX: i32,
  stepY: i32,
  shade: i32,
  base: i32,
  texelShift: i32,
  blockShift: i32,
  columnMask: i32,
  rowShift: i32,
  rowMask: i32,
  upperGrain: i32,
  lowerGrain: i32,
): void {
  const flip = above ? 0 : -1;
  const edges = edgesAt + (above ? 0 : half << 2);
  const ground = <i32>groundAt + base;
  const walls = <i32>wallLumaAt;
  const end = <usize>half << 2;
  const fours = end & ~15;
  const row = i32x4.splat(y);
  const flips = i32x4.splat(flip);
  const rowMasks = i32x4.splat(rowMask);
  const columnMasks = i32x4.splat(columnMask);
  const steps = i32x4(0, 1, 2, 3);
  let gx = i32x4.add(i32x4.splat(fromX), i32x4.mul(steps, i32x4.splat(stepX)));
  let gy = i32x4.add(i32x4.splat(fromY), i32x4.mul(steps, i32x4.splat(stepY)));
  const fourX = i32x4.splat(stepX << 2);
  const fourY = i32x4.splat(stepY << 2);
  let column: usize = 0;
  for (; column < fours; column += 16) {
    // The sign tells: set where it is ground.
    const kind = i32x4.bitmask(v128.xor(i32x4.sub(row, v128.load(edges + column)), flips));
    const into = lineAt + (column >> 2);
    if (kind == 15) {
      const at = i32x4.add(
        i32x4.splat(ground),
        v128.or(
          v128.or(
            v128.and(i32x4.shr_s(gy, rowShift), rowMasks),
            v128.and(i32x4.shr_s(gx, blockShift), columnMasks),
          ),
          v128.or(
            v128.and(i32x4.shr_s(gy, blockShift), i32x4.splat(56)),
            v128.and(i32x4.shr_s(gx, texelShift), i32x4.splat(7)),
          ),
        ),
      );
      store<u32>(
        into,
        byteAt(shade, i32x4.extract_lane(at, 0), 0) |
          byteAt(shade, i32x4.extract_lane(at, 1), 1) |
          byteAt(shade, i32x4.extract_lane(at, 2), 2) |
          byteAt(shade, i32x4.extract_lane(at, 3), 3),
      );
    } else if (kind == 0) {
      const rows = i32x4.add(v128.load(startTexelAt + column), i32x4.mul(row, v128.load(texelsPerRowAt + column)));
      const place = i32x4.add(
        v128.load(texelAt + column),
        v128.and(i32x4.shr_s(rows, 9), i32x4.splat(wallRowMask)),
      );
      const at = i32x4.add(i32x4.splat(walls), place);
      const tone = v128.load(shadeAt + column);
      store<u32>(
        into,
        byteAt(i32x4.extract_lane(tone, 0), i32x4.extract_lane(at, 0), 0) |
          byteAt(i32x4.extract_lane(tone, 1), i32x4.extract_lane(at, 1), 1) |
          byteAt(i32x4.extract_lane(tone, 2), i32x4.extract_lane(at, 2), 2) |
          byteAt(i32x4.extract_lane(tone, 3), i32x4.extract_lane(at, 3), 3),
      );
    } else mixed(y, column, column + 16, edges, flip, fromX, fromY, stepX, stepY, shade, ground, texelShift, blockShift, columnMask, rowShift, rowMask);
    gx = i32x4.add(gx, fourX);
    gy = i32x4.add(gy, fourY);
  }
  mixed(y, column, end, edges, flip, fromX, fromY, stepX, stepY, shade, ground, texelShift, blockShift, columnMask, rowShift, rowMask);
  grained(lumaAt + y * widthPx, grainAt + upperGrain);
  grained(lumaAt + (y + 1) * widthPx, grainAt + lowerGrain);
}

/** Columns of either kind, one by one. */
function mixed(
  y: i32,
  from: usize,
  end: usize,
  edges: usize,
  flip: i32,
  fromX: i32,
  fromY: i32,
  stepX: i32,
  stepY: i32,
  shade: i32,
  ground: i32,
  texelShift: i32,
  blockShift: i32,
  columnMask: i32,
  rowShift: i32,
  rowMask: i32,
): void {
  for (let column = from; column < end; column += 4) {
    const c = <i32>(column >> 2);
    if (((y - load<i32>(edges + column)) ^ flip) < 0) {
      const gx = fromX + c * stepX;
      const gy = fromY + c * stepY;
      const at =
        ((gy >> rowShift) & rowMask) |
        ((gx >> blockShift) & columnMask) |
        ((gy >> blockShift) & 56) |
        ((gx >> texelShift) & 7);
      store<u8>(lineAt + c, load<u8>(darkenedAt + shade + load<u8>(ground + at)));
    } else store<u8>(lineAt + c, wallLumaOf(column, y));
  }
}

/** The line, each value twice, with grain on it. Luma leaves room for the grain, so no byte runs over. */
function grained(into: usize, grain: usize): void {
  let x: i32 = 0;
  for (; x + 16 <= widthPx; x += 16) {
    const eight = v128.load64_zero(lineAt + (x >> 1));
    const pairs = v128.shuffle<u8>(eight, eight, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7);
    v128.store(into + x, i8x16.add(pairs, v128.load(grain + x)));
  }
  for (; x < widthPx; x++) store<u8>(into + x, load<u8>(lineAt + (x >> 1)) + load<u8>(grain + x));
}

/** Two rows of both colours, for four rows of luma: a value serves four by four pixels. */
export function paintColours(y: i32, above: bool): void {
  const flip = above ? 0 : -1;
  const edges = edgesAt + (above ? 0 : half << 2);
  const row = (y >> 1) * half;
  memory.fill(blueAt + row, above ? 129 : 124, half);
  memory.fill(redAt + row, above ? 129 : 132, half);
  for (let c = 0; c < half; c += 2) {
    const column = <usize>c << 2;
    if (((y - load<i32>(edges + column)) ^ flip) < 0) continue;
    const at = wallPlace(column, y);
    const tone = coloursAt + load<i32>(shadeAt + column);
    // Beyond an odd end lies the next row, which is painted afterwards, or room that is nobody's.
    const both = load<u16>(wallColoursAt + (at << 1));
    const blue = <u16>load<u8>(tone + (both & 255));
    const red = <u16>load<u8>(tone + (both >> 8));
    store<u16>(blueAt + row + c, blue * 257);
    store<u16>(redAt + row + c, red * 257);
  }
}

/** The same colours for the next two rows. */
export function repeatColours(y: i32): void {
  const row = (y >> 1) * half;
  memory.copy(blueAt + row, blueAt + row - half, half);
  memory.copy(redAt + row, redAt + row - half, half);
}
