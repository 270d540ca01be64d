/** Luma and two differences to blue, green and red. */

import { clampTo, eightOfThree, weightOf } from './samples';

/** Of the weights that lead to red, green and blue: some are above 2. */
const backFraction = 13;

// @ts-ignore: a decorator
@inline
function ofColour(sum: i32): u8 {
  return <u8>clampTo(255, (sum + (1 << (backFraction - 1))) >> backFraction);
}

/**
 * Luma and two differences of 8 bits, a sample of each for each pixel, to green, blue and red: in planes
 * (`pixelBytes` 1), or in one with 3 or 4 bytes for a pixel in the order blue, green, red, at `intoBlue`.
 * @param weights of luma; of the red difference for red; of the blue one for green; of the red one for green
 * @param blueWeight of the blue difference for blue
 */
export function redGreenBlue(
  luma: usize,
  blue: usize,
  red: usize,
  fromStride: i32,
  intoGreen: usize,
  intoBlue: usize,
  intoRed: usize,
  intoStride: i32,
  pixelBytes: i32,
  widthPx: i32,
  rows: i32,
  weights: i64,
  blueWeight: i32,
  black: i32,
): void {
  const ofLuma = i16x8.splat(<i16>weightOf(weights, 0));
  const redOfRed = i16x8.splat(<i16>weightOf(weights, 1));
  const greenOfBlue = i16x8.splat(<i16>weightOf(weights, 2));
  const greenOfRed = i16x8.splat(<i16>weightOf(weights, 3));
  const blueOfBlue = i16x8.splat(<i16>blueWeight);
  const none = i16x8.splat(0);
  const half = i32x4.splat(1 << (backFraction - 1));
  for (let row = 0; row < rows; row++) {
    const from = row * fromStride;
    const into = row * intoStride;
    let x = 0;
    for (; x + 8 <= widthPx; x += 8) {
      const y = i16x8.sub(v128.load8x8_u(luma + from + x), i16x8.splat(<i16>black));
      const u = i16x8.sub(v128.load8x8_u(blue + from + x), i16x8.splat(128));
      const v = i16x8.sub(v128.load8x8_u(red + from + x), i16x8.splat(128));
      const r = eightOfThree(y, v, none, ofLuma, redOfRed, none, half, backFraction);
      const g = eightOfThree(y, u, v, ofLuma, greenOfBlue, greenOfRed, half, backFraction);
      const b = eightOfThree(y, u, none, ofLuma, blueOfBlue, none, half, backFraction);
      const blueRed = i8x16.narrow_i16x8_u(b, r);
      const green = i8x16.narrow_i16x8_u(g, g);
      if (pixelBytes == 1) {
        v128.store64_lane(intoGreen + into + x, green, 0);
        v128.store64_lane(intoBlue + into + x, blueRed, 0);
        v128.store64_lane(intoRed + into + x, blueRed, 1);
        continue;
      }
      const bg = v128.shuffle<i8>(blueRed, green, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
      const rx = v128.shuffle<i8>(blueRed, i8x16.splat(-1), 8, 16, 9, 17, 10, 18, 11, 19, 12, 20, 13, 21, 14, 22, 15, 23);
      const first = v128.shuffle<i16>(bg, rx, 0, 8, 1, 9, 2, 10, 3, 11);
      const second = v128.shuffle<i16>(bg, rx, 4, 12, 5, 13, 6, 14, 7, 15);
      const at = intoBlue + into + x * pixelBytes;
      if (pixelBytes == 4) {
        v128.store(at, first);
        v128.store(at, second, 16);
      } else {
        const compact = i8x16(0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14, 0, 0, 0, 0);
        const four = i8x16.swizzle(first, compact);
        const next = i8x16.swizzle(second, compact);
        v128.store64_lane(at, four, 0);
        v128.store32_lane(at, four, 2, 8);
        v128.store64_lane(at, next, 0, 12);
        v128.store32_lane(at, next, 2, 20);
      }
    }
    for (; x < widthPx; x++) {
      const y = (<i32>load<u8>(luma + from + x) - black) * weightOf(weights, 0);
      const u = <i32>load<u8>(blue + from + x) - 128;
      const v = <i32>load<u8>(red + from + x) - 128;
      const b = ofColour(y + u * blueWeight);
      const g = ofColour(y + u * weightOf(weights, 2) + v * weightOf(weights, 3));
      const r = ofColour(y + v * weightOf(weights, 1));
      if (pixelBytes == 1) {
        store<u8>(intoGreen + into + x, g);
        store<u8>(intoBlue + into + x, b);
        store<u8>(intoRed + into + x, r);
      } else {
        const at = intoBlue + into + x * pixelBytes;
        store<u8>(at, b);
        store<u8>(at, g, 1);
        store<u8>(at, r, 2);
        if (pixelBytes == 4) store<u8>(at, 255, 3);
      }
    }
  }
}
