import { fillRect, type Colour, type Picture420 } from './picture420';

/**
 * The number strip: light and dark cells along the top and the bottom edge that carry a frame's number,
 * its game time and a checksum, so that a finished file can be accounted for frame by frame and a tear would show.
 * 22 bits number, 14 bits game time in ms (modulo 16 384), 8 bits checksum, after 4 bits 1010 to find it.
 */
export const stripCellPx = 24;
const numberBits = 22;
const timeBits = 14;
const totalBits = 4 + numberBits + timeBits + 8;

const dark: Colour = { y: 32, u: 128, v: 128 };
const light: Colour = { y: 220, u: 128, v: 128 };

export interface StripReading {
  number: number;
  gameTimeMs: number;
}

/** Cells in a row for a picture of this width, and the rows they need. */
function stripShape(widthPx: number): { perRow: number; rows: number } {
  const perRow = Math.min(totalBits, Math.floor(widthPx / stripCellPx));
  return { perRow, rows: Math.ceil(totalBits / perRow) };
}

/** Height of one strip in source pixels. */
export const stripHeightPx = (widthPx: number): number => stripShape(widthPx).rows * stripCellPx;

function checksum(number: number, gameTimeMs: number): number {
  let mixed = Math.imul(number ^ (gameTimeMs << 9) ^ 0x5bd1e995, 0x9e3779b1);
  mixed ^= mixed >>> 15;
  return (mixed ^ (mixed >>> 8)) & 255;
}

function bitsOf(number: number, gameTimeMs: number): number[] {
  const bits = [1, 0, 1, 0];
  const push = (value: number, count: number) => {
    for (let i = count - 1; i >= 0; i--) bits.push((value >>> i) & 1);
  };
  push(number, numberBits);
  push(gameTimeMs, timeBits);
  push(checksum(number, gameTimeMs), 8);
  return bits;
}

/** Draws both strips. `flash` lights the small field right of the cells' last row (or the last cell's place). */
export function drawStrip(picture: Picture420, frameNumber: number, gameTimeUs: number): void {
  const { perRow, rows } = stripShape(picture.widthPx);
  const number = frameNumber & ((1 << numberBits) - 1);
  const bits = bitsOf(number, Math.floor(gameTimeUs / 1000) & ((1 << timeBits) - 1));
  for (const top of [0, picture.heightPx - rows * stripCellPx]) {
    bits.forEach((bit, i) => {
      const x = (i % perRow) * stripCellPx;
      const y = top + Math.floor(i / perRow) * stripCellPx;
      fillRect(picture, x, y, stripCellPx, stripCellPx, bit ? light : dark);
    });
  }
}

/**
 * Reads a strip from decoded luma of any size that shows the whole source picture.
 * @param sourceWidthPx width of the game's picture, by which the cells are found again
 * @returns null where the strips are unreadable, or top and bottom disagree (a tear)
 */
export function readStrip(
  luma: Uint8Array,
  stridePx: number,
  widthPx: number,
  heightPx: number,
  sourceWidthPx: number,
  sourceHeightPx: number,
): StripReading | null {
  const { perRow, rows } = stripShape(sourceWidthPx);
  const readAt = (top: number): StripReading | null => {
    const value = (bit: number): number => {
      const centreX = ((bit % perRow) + 0.5) * stripCellPx * (widthPx / sourceWidthPx);
      const centreY = (top + (Math.floor(bit / perRow) + 0.5) * stripCellPx) * (heightPx / sourceHeightPx);
      let sum = 0;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++)
          sum += luma[(Math.floor(centreY) + dy) * stridePx + Math.floor(centreX) + dx] ?? 0;
      }
      return sum / 9 > 126 ? 1 : 0;
    };
    let at = 0;
    const take = (count: number): number => {
      let out = 0;
      for (let i = 0; i < count; i++) out = (out << 1) | value(at++);
      return out >>> 0;
    };
    if (take(4) !== 0b1010) return null;
    const number = take(numberBits);
    const gameTimeMs = take(timeBits);
    return take(8) === checksum(number, gameTimeMs) ? { number, gameTimeMs } : null;
  };
  const upper = readAt(0);
  const lower = readAt(sourceHeightPx - rows * stripCellPx);
  if (!upper || !lower || upper.number !== lower.number) return null;
  return upper;
}
