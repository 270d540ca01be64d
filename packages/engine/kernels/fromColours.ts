/** Blue, green and red to luma and two differences. */

import { clampTo, weightOf, wideWords } from './samples';

/** Bits behind the point of the weights of red, green and blue. */
const fraction = 15;
/** Of a colour difference: eight samples are summed for one. */
const chromaFraction = 18;

/** Four weighted sums in 32 bits: of four pixels whose samples lie in 16 bits, two in `low` and two in `high`. */
// @ts-ignore: a decorator
@inline
function weighed(low: v128, high: v128, weights: v128, start: v128, shift: i32): v128 {
  const a = i32x4.dot_i16x8_s(low, weights);
  const b = i32x4.dot_i16x8_s(high, weights);
  const sum = i32x4.add(v128.shuffle<i32>(a, b, 0, 2, 4, 6), v128.shuffle<i32>(a, b, 1, 3, 5, 7));
  return i32x4.shr_s(i32x4.add(sum, start), shift);
}

/** Eight samples in 16 bits from eight pixels of four bytes. */
// @ts-ignore: a decorator
@inline
function eightSamples(from: usize, weights: v128, start: v128, shift: i32): v128 {
  const a = v128.load(from);
  const b = v128.load(from, 16);
  return i16x8.narrow_i32x4_s(
    weighed(i16x8.extend_low_i8x16_u(a), i16x8.extend_high_i8x16_u(a), weights, start, shift),
    weighed(i16x8.extend_low_i8x16_u(b), i16x8.extend_high_i8x16_u(b), weights, start, shift),
  );
}

/** One line of one component, a sample for each pixel. @param bytes of a sample: 1 for 8 bits, 2 for 10 */
function componentLine(from: usize, into: usize, widthPx: i32, packed: i64, zero: i32, bytes: i32, lift: i32): void {
  const weights = i64x2.splat(packed);
  const shift = bytes == 1 ? fraction : fraction - 2;
  const bias = (zero << shift) + (1 << (shift - 1));
  const start = i32x4.splat(bias);
  let x = 0;
  if (bytes == 1) {
    for (; x + 16 <= widthPx; x += 16) {
      const at = from + 4 * x;
      v128.store(
        into + x,
        i8x16.narrow_i16x8_u(eightSamples(at, weights, start, shift), eightSamples(at + 32, weights, start, shift)),
      );
    }
  } else {
    for (; x + 8 <= widthPx; x += 8)
      v128.store(into + 2 * x, wideWords(eightSamples(from + 4 * x, weights, start, shift), lift));
  }
  for (; x < widthPx; x++) {
    const at = from + 4 * x;
    const sum =
      <i32>load<u8>(at) * weightOf(packed, 0) +
      <i32>load<u8>(at, 1) * weightOf(packed, 1) +
      <i32>load<u8>(at, 2) * weightOf(packed, 2);
    if (bytes == 1) store<u8>(into + x, clampTo(255, (sum + bias) >> shift));
    else store<u16>(into + 2 * x, clampTo(1023, (sum + bias) >> shift) << lift);
  }
}

/** Blue, green or red of one pixel in two lines, summed; x is held within the line. */
// @ts-ignore: a decorator
@inline
function pairSum(upper: usize, lower: usize, x: i32, widthPx: i32, channel: i32): i32 {
  const at = 4 * max(0, min(widthPx - 1, x)) + channel;
  return <i32>load<u8>(upper + at) + <i32>load<u8>(lower + at);
}

/** One colour difference without what stands for none, before it is shifted. */
// @ts-ignore: a decorator
@inline
function differenceAt(upper: usize, lower: usize, x: i32, widthPx: i32, packed: i64, centred: i32): i32 {
  let sum = 0;
  for (let channel = 0; channel < 3; channel++) {
    const left = pairSum(upper, lower, x - 1, widthPx, channel);
    const own = pairSum(upper, lower, x, widthPx, channel);
    const right = pairSum(upper, lower, x + 1, widthPx, channel);
    sum += (2 * own + (centred ? 2 * right : left + right)) * weightOf(packed, channel);
  }
  return sum;
}

/**
 * One line of colour differences from two lines of pixels: a sample lies between the two lines, and on the left one of
 * two pixels (1, 2, 1 across), or centred between them. @param step samples from one to the next of a kind: 2 where both kinds lie in turn
 */
function differenceLine(
  upper: usize,
  lower: usize,
  intoBlue: usize,
  intoRed: usize,
  step: i32,
  widthPx: i32,
  blue: i64,
  red: i64,
  bytes: i32,
  lift: i32,
  centred: i32,
): void {
  const blues = i64x2.splat(blue);
  const reds = i64x2.splat(red);
  const shift = bytes == 1 ? chromaFraction : chromaFraction - 2;
  const bias = ((bytes == 1 ? 128 : 512) << shift) + (1 << (shift - 1));
  const start = i32x4.splat(bias);
  let before = i16x8.add(i16x8.extend_low_i8x16_u(v128.load(upper)), i16x8.extend_low_i8x16_u(v128.load(lower)));
  before = v128.shuffle<i64>(before, before, 0, 0);
  let x = 0;
  for (; x + 8 <= widthPx; x += 8) {
    const a = v128.load(upper + 4 * x);
    const b = v128.load(upper + 4 * x, 16);
    const c = v128.load(lower + 4 * x);
    const d = v128.load(lower + 4 * x, 16);
    const p01 = i16x8.add(i16x8.extend_low_i8x16_u(a), i16x8.extend_low_i8x16_u(c));
    const p23 = i16x8.add(i16x8.extend_high_i8x16_u(a), i16x8.extend_high_i8x16_u(c));
    const p45 = i16x8.add(i16x8.extend_low_i8x16_u(b), i16x8.extend_low_i8x16_u(d));
    const p67 = i16x8.add(i16x8.extend_high_i8x16_u(b), i16x8.extend_high_i8x16_u(d));
    const rightLow = v128.shuffle<i64>(p01, p23, 1, 3);
    const rightHigh = v128.shuffle<i64>(p45, p67, 1, 3);
    const otherLow = centred ? rightLow : v128.shuffle<i64>(before, p01, 1, 3);
    const otherHigh = centred ? rightHigh : v128.shuffle<i64>(p23, p45, 1, 3);
    const low = i16x8.add(i16x8.add(otherLow, rightLow), i16x8.shl(v128.shuffle<i64>(p01, p23, 0, 2), 1));
    const high = i16x8.add(i16x8.add(otherHigh, rightHigh), i16x8.shl(v128.shuffle<i64>(p45, p67, 0, 2), 1));
    before = p67;
    const words = i16x8.narrow_i32x4_s(
      weighed(low, high, blues, start, shift),
      weighed(low, high, reds, start, shift),
    );
    const at = (x >> 1) * step * bytes;
    if (bytes == 1) {
      const samples = i8x16.narrow_i16x8_u(words, words);
      if (step == 1) {
        v128.store32_lane(intoBlue + at, samples, 0);
        v128.store32_lane(intoRed + at, samples, 1);
      } else {
        const turned = v128.shuffle<i8>(samples, samples, 0, 4, 1, 5, 2, 6, 3, 7, 0, 4, 1, 5, 2, 6, 3, 7);
        v128.store64_lane(intoBlue + at, turned, 0);
      }
    } else {
      const samples = wideWords(words, lift);
      if (step == 1) {
        v128.store64_lane(intoBlue + at, samples, 0);
        v128.store64_lane(intoRed + at, samples, 1);
      } else v128.store(intoBlue + at, v128.shuffle<i16>(samples, samples, 0, 4, 1, 5, 2, 6, 3, 7));
    }
  }
  for (; x < widthPx; x += 2) {
    const at = (x >> 1) * step * bytes;
    const differenceToBlue = (differenceAt(upper, lower, x, widthPx, blue, centred) + bias) >> shift;
    const differenceToRed = (differenceAt(upper, lower, x, widthPx, red, centred) + bias) >> shift;
    if (bytes == 1) {
      store<u8>(intoBlue + at, clampTo(255, differenceToBlue));
      store<u8>(intoRed + at, clampTo(255, differenceToRed));
    } else {
      store<u16>(intoBlue + at, clampTo(1023, differenceToBlue) << lift);
      store<u16>(intoRed + at, clampTo(1023, differenceToRed) << lift);
    }
  }
}

/**
 * Blue, green, red and nothing to luma and two differences, a sample of each for each pixel.
 * @param bytes of a sample: 1 for 8 bits, 2 for 10
 */
export function fullDifferences(
  from: usize,
  fromStride: i32,
  luma: usize,
  blue: usize,
  red: usize,
  intoStride: i32,
  widthPx: i32,
  rows: i32,
  lumaWeights: i64,
  blueWeights: i64,
  redWeights: i64,
  black: i32,
  bytes: i32,
): void {
  for (let row = 0; row < rows; row++) {
    const line = from + row * fromStride;
    const at = row * intoStride;
    const none = bytes == 1 ? 128 : 512;
    componentLine(line, luma + at, widthPx, lumaWeights, black, bytes, 0);
    componentLine(line, blue + at, widthPx, blueWeights, none, bytes, 0);
    componentLine(line, red + at, widthPx, redWeights, none, bytes, 0);
  }
}

/**
 * The same with differences of half the width and height; both sizes are even.
 * @param lift bits that a sample of 10 lies above the lowest
 * @param centred whether differences lie between two pixels, as JPEG has them; 8 bits only
 */
export function halvedDifferences(
  from: usize,
  fromStride: i32,
  luma: usize,
  lumaStride: i32,
  blue: usize,
  red: usize,
  differenceStride: i32,
  step: i32,
  widthPx: i32,
  rows: i32,
  lumaWeights: i64,
  blueWeights: i64,
  redWeights: i64,
  black: i32,
  bytes: i32,
  lift: i32,
  centred: i32,
): void {
  for (let row = 0; row < rows; row += 2) {
    const upper = from + row * fromStride;
    const lower = upper + fromStride;
    const into = luma + row * lumaStride;
    const at = (row >> 1) * differenceStride;
    componentLine(upper, into, widthPx, lumaWeights, black, bytes, lift);
    componentLine(lower, into + lumaStride, widthPx, lumaWeights, black, bytes, lift);
    differenceLine(upper, lower, blue + at, red + at, step, widthPx, blueWeights, redWeights, bytes, lift, centred);
  }
}
