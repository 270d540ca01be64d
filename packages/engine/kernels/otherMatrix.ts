/** Luma and two differences of one matrix and range to those of others. */

import { clampTo, eightOfThree, weightOf, wideWords } from './samples';

/** Of the weights between two matrices; colour differences are summed eightfold there. */
const matrixFraction = 14;

/** A sample of 8 bits, or one of 10 in two bytes. */
// @ts-ignore: a decorator
@inline
function sampleAt(line: usize, at: i32, bytes: i32): i32 {
  return bytes == 1 ? <i32>load<u8>(line + at) : <i32>load<u16>(line + 2 * at);
}

// @ts-ignore: a decorator
@inline
function eightAt(line: usize, at: i32, bytes: i32): v128 {
  return bytes == 1 ? v128.load8x8_u(line + at) : v128.load(line + 2 * at);
}

/** Puts a sample to a place among others, within what its bits hold. */
// @ts-ignore: a decorator
@inline
function put(line: usize, at: i32, value: i32, bytes: i32, lift: i32): void {
  if (bytes == 1) store<u8>(line + at, clampTo(255, value));
  else store<u16>(line + 2 * at, clampTo(1023, value) << lift);
}

/** A difference of one matrix and range in another: each pair by itself, both fourfold and without what stands for none. */
// @ts-ignore: a decorator
@inline
function turnedDifference(first: i32, second: i32, ofFirst: i32, ofSecond: i32, none: i32): i32 {
  const bits = matrixFraction + 2;
  return (first * ofFirst + second * ofSecond + (none << bits) + (1 << (bits - 1))) >> bits;
}

/** A difference fourfold where it lies on the left pixel of two, or brought to between them. */
// @ts-ignore: a decorator
@inline
function placed(line: usize, at: i32, last: i32, centred: i32, bytes: i32, none: i32): i32 {
  const own = sampleAt(line, at, bytes);
  return 3 * own + (centred ? sampleAt(line, min(last, at + 1), bytes) : own) - 4 * none;
}

/** A difference between its lines: three parts of the near one, one of the far one, without what stands for none. */
// @ts-ignore: a decorator
@inline
function betweenLines(near: usize, far: usize, at: i32, bytes: i32, none: i32): i32 {
  return 3 * sampleAt(near, at, bytes) + sampleAt(far, at, bytes) - 4 * none;
}

// @ts-ignore: a decorator
@inline
function eightBetweenLines(near: usize, far: usize, at: i32, bytes: i32, none: i32): v128 {
  const three = i16x8.mul(eightAt(near, at, bytes), i16x8.splat(3));
  return i16x8.sub(i16x8.add(three, eightAt(far, at, bytes)), i16x8.splat(<i16>(4 * none)));
}

/**
 * 4:2:0 of one matrix and range to 4:2:0 of others. Luma takes part of the differences, which are brought to each pixel
 * for it; differences take nothing of luma.
 * @param lumaWeights of luma, of the blue and of the red difference (those two for differences eightfold)
 * @param differenceWeights blue of blue, blue of red, red of blue, red of red
 * @param bytes of a sample: 1 for 8 bits, 2 for 10 on both sides
 * @param lift bits that a sample of 10 lies above the lowest afterwards
 */
export function otherMatrix(
  luma: usize,
  lumaStride: i32,
  blue: usize,
  red: usize,
  differenceStride: i32,
  intoLuma: usize,
  intoLumaStride: i32,
  intoBlue: usize,
  intoRed: usize,
  intoDifferenceStride: i32,
  step: i32,
  widthPx: i32,
  rows: i32,
  lumaWeights: i64,
  differenceWeights: i64,
  black: i32,
  intoBlack: i32,
  centred: i32,
  bytes: i32,
  lift: i32,
): void {
  const none = bytes == 1 ? 128 : 512;
  const bias = (intoBlack << matrixFraction) + (1 << (matrixFraction - 1));
  const start = i32x4.splat(bias);
  const blacks = i16x8.splat(<i16>black);
  const ofLuma = i16x8.splat(<i16>weightOf(lumaWeights, 0));
  const ofBlue = i16x8.splat(<i16>weightOf(lumaWeights, 1));
  const ofRed = i16x8.splat(<i16>weightOf(lumaWeights, 2));
  const half = widthPx >> 1;
  const last = half - 1;
  const lastRow = (rows >> 1) - 1;
  for (let row = 0; row < rows; row++) {
    const near = (row >> 1) * differenceStride;
    const far = max(0, min(lastRow, (row >> 1) + (row & 1 ? 1 : -1))) * differenceStride;
    const from = luma + row * lumaStride;
    const into = intoLuma + row * intoLumaStride;
    let k = 0;
    for (; k + 9 <= half; k += 8) {
      const b = eightBetweenLines(blue + near, blue + far, k, bytes, none);
      const bNext = i16x8.add(b, eightBetweenLines(blue + near, blue + far, k + 1, bytes, none));
      const bOwn = i16x8.add(b, b);
      const r = eightBetweenLines(red + near, red + far, k, bytes, none);
      const rNext = i16x8.add(r, eightBetweenLines(red + near, red + far, k + 1, bytes, none));
      const rOwn = i16x8.add(r, r);
      const first = eightOfThree(
        i16x8.sub(eightAt(from, 2 * k, bytes), blacks),
        v128.shuffle<i16>(bOwn, bNext, 0, 8, 1, 9, 2, 10, 3, 11),
        v128.shuffle<i16>(rOwn, rNext, 0, 8, 1, 9, 2, 10, 3, 11),
        ofLuma,
        ofBlue,
        ofRed,
        start,
        matrixFraction,
      );
      const second = eightOfThree(
        i16x8.sub(eightAt(from, 2 * k + 8, bytes), blacks),
        v128.shuffle<i16>(bOwn, bNext, 4, 12, 5, 13, 6, 14, 7, 15),
        v128.shuffle<i16>(rOwn, rNext, 4, 12, 5, 13, 6, 14, 7, 15),
        ofLuma,
        ofBlue,
        ofRed,
        start,
        matrixFraction,
      );
      if (bytes == 1) v128.store(into + 2 * k, i8x16.narrow_i16x8_u(first, second));
      else {
        v128.store(into + 4 * k, wideWords(first, lift));
        v128.store(into + 4 * k, wideWords(second, lift), 16);
      }
    }
    for (let x = 2 * k; x < widthPx; x++) {
      const own = x >> 1;
      const next = x & 1 ? min(last, own + 1) : own;
      const b =
        betweenLines(blue + near, blue + far, own, bytes, none) + betweenLines(blue + near, blue + far, next, bytes, none);
      const r =
        betweenLines(red + near, red + far, own, bytes, none) + betweenLines(red + near, red + far, next, bytes, none);
      const y = sampleAt(from, x, bytes) - black;
      const sum = y * weightOf(lumaWeights, 0) + b * weightOf(lumaWeights, 1) + r * weightOf(lumaWeights, 2);
      put(into, x, (sum + bias) >> matrixFraction, bytes, lift);
    }
    if (row & 1) continue;
    const intoLine = (row >> 1) * intoDifferenceStride;
    for (let x = 0; x < half; x++) {
      const b = placed(blue + near, x, last, centred, bytes, none);
      const r = placed(red + near, x, last, centred, bytes, none);
      const toBlue = turnedDifference(b, r, weightOf(differenceWeights, 0), weightOf(differenceWeights, 1), none);
      const toRed = turnedDifference(b, r, weightOf(differenceWeights, 2), weightOf(differenceWeights, 3), none);
      put(intoBlue + intoLine, x * step, toBlue, bytes, lift);
      put(intoRed + intoLine, x * step, toRed, bytes, lift);
    }
  }
}

/**
 * A sample of each kind for each pixel, of 8 bits, in another matrix and range.
 * @param lumaWeights of luma, of the blue and of the red difference, each as it lies there
 */
export function otherMatrixFull(
  luma: usize,
  blue: usize,
  red: usize,
  fromStride: i32,
  intoLuma: usize,
  intoBlue: usize,
  intoRed: usize,
  intoStride: i32,
  widthPx: i32,
  rows: i32,
  lumaWeights: i64,
  differenceWeights: i64,
  black: i32,
  intoBlack: i32,
): void {
  const half = 1 << (matrixFraction - 1);
  const lumaBias = (intoBlack << matrixFraction) + half;
  const bias = (128 << matrixFraction) + half;
  const none = i16x8.splat(0);
  for (let row = 0; row < rows; row++) {
    const from = row * fromStride;
    const into = row * intoStride;
    let x = 0;
    for (; x + 8 <= widthPx; x += 8) {
      const y = i16x8.sub(eightAt(luma + from, x, 1), i16x8.splat(<i16>black));
      const b = i16x8.sub(eightAt(blue + from, x, 1), i16x8.splat(128));
      const r = i16x8.sub(eightAt(red + from, x, 1), i16x8.splat(128));
      const lumaWords = eightOfThree(
        y, b, r, i16x8.splat(<i16>weightOf(lumaWeights, 0)), i16x8.splat(<i16>weightOf(lumaWeights, 1)),
        i16x8.splat(<i16>weightOf(lumaWeights, 2)), i32x4.splat(lumaBias), matrixFraction,
      );
      const blueWords = eightOfThree(
        b, r, none, i16x8.splat(<i16>weightOf(differenceWeights, 0)), i16x8.splat(<i16>weightOf(differenceWeights, 1)),
        none, i32x4.splat(bias), matrixFraction,
      );
      const redWords = eightOfThree(
        b, r, none, i16x8.splat(<i16>weightOf(differenceWeights, 2)), i16x8.splat(<i16>weightOf(differenceWeights, 3)),
        none, i32x4.splat(bias), matrixFraction,
      );
      v128.store64_lane(intoLuma + into + x, i8x16.narrow_i16x8_u(lumaWords, lumaWords), 0);
      const differences = i8x16.narrow_i16x8_u(blueWords, redWords);
      v128.store64_lane(intoBlue + into + x, differences, 0);
      v128.store64_lane(intoRed + into + x, differences, 1);
    }
    for (; x < widthPx; x++) {
      const y = sampleAt(luma + from, x, 1) - black;
      const b = sampleAt(blue + from, x, 1) - 128;
      const r = sampleAt(red + from, x, 1) - 128;
      const sum = y * weightOf(lumaWeights, 0) + b * weightOf(lumaWeights, 1) + r * weightOf(lumaWeights, 2);
      put(intoLuma + into, x, (sum + lumaBias) >> matrixFraction, 1, 0);
      const toBlue = b * weightOf(differenceWeights, 0) + r * weightOf(differenceWeights, 1);
      const toRed = b * weightOf(differenceWeights, 2) + r * weightOf(differenceWeights, 3);
      put(intoBlue + into, x, (toBlue + bias) >> matrixFraction, 1, 0);
      put(intoRed + into, x, (toRed + bias) >> matrixFraction, 1, 0);
    }
  }
}
