/**
 * Conversion of pixels between red, green and blue and luma with colour differences, in AssemblyScript: it becomes
 * WebAssembly with SIMD and works in the shared memory that the pictures lie in, so there is nothing of its own in it.
 * Addresses and strides are bytes; weights are fractions of 2^15, four of them packed into 64 bits, the first lowest.
 * Formulas: docs/model.md, "Converting pixels".
 */

/** Bits behind the point of the weights of red, green and blue. */
const fraction = 15;
/** Of a colour difference: eight samples are summed for one. */
const chromaFraction = 18;
/** Of the weights that lead to red, green and blue: some are above 2. */
const backFraction = 13;
/** Of the weights between two matrices; colour differences are summed eightfold there. */
const matrixFraction = 14;

// @ts-ignore: a decorator
@inline
function clampTo(most: i32, value: i32): i32 {
  return max(0, min(most, value));
}

// @ts-ignore: a decorator
@inline
function weightOf(packed: i64, index: i32): i32 {
  return <i32>(<i16>(packed >> (16 * index)));
}

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

/** Eight samples of up to 10 bits, held within them and lifted to where they lie in 16. */
// @ts-ignore: a decorator
@inline
function wideWords(words: v128, lift: i32): v128 {
  return i16x8.shl(i16x8.min_s(i16x8.max_s(words, i16x8.splat(0)), i16x8.splat(1023)), lift);
}

/** One line of one component, a sample for each pixel. @param bytes of a sample: 1 for 8 bits, 2 for 10 */
// @ts-ignore: a decorator
@inline
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
// @ts-ignore: a decorator
@inline
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

/** Blue, green, red and nothing to luma and two differences of 8 bits, a sample of each for each pixel. */
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
): void {
  for (let row = 0; row < rows; row++) {
    const line = from + row * fromStride;
    const at = row * intoStride;
    componentLine(line, luma + at, widthPx, lumaWeights, black, 1, 0);
    componentLine(line, blue + at, widthPx, blueWeights, 128, 1, 0);
    componentLine(line, red + at, widthPx, redWeights, 128, 1, 0);
  }
}

// @ts-ignore: a decorator
@inline
function halved(
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

/** The same with differences of half the width and height; both sizes are even. @param centred as JPEG has them */
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
  centred: i32,
): void {
  halved(
    from, fromStride, luma, lumaStride, blue, red, differenceStride, step, widthPx, rows, lumaWeights, blueWeights,
    redWeights, black, 1, 0, centred,
  );
}

/** The same with samples of 10 bits in two bytes. @param lift bits that a sample lies above the lowest */
export function halvedDifferences10(
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
  lift: i32,
): void {
  halved(
    from, fromStride, luma, lumaStride, blue, red, differenceStride, step, widthPx, rows, lumaWeights, blueWeights,
    redWeights, black, 2, lift, 0,
  );
}

/** Eight samples of one colour from luma and one or two differences. */
// @ts-ignore: a decorator
@inline
function eightOfColour(y: v128, a: v128, b: v128, ofLuma: v128, ofA: v128, ofB: v128): v128 {
  const half = i32x4.splat(1 << (backFraction - 1));
  const low = i32x4.add(
    i32x4.add(i32x4.extmul_low_i16x8_s(y, ofLuma), half),
    i32x4.add(i32x4.extmul_low_i16x8_s(a, ofA), i32x4.extmul_low_i16x8_s(b, ofB)),
  );
  const high = i32x4.add(
    i32x4.add(i32x4.extmul_high_i16x8_s(y, ofLuma), half),
    i32x4.add(i32x4.extmul_high_i16x8_s(a, ofA), i32x4.extmul_high_i16x8_s(b, ofB)),
  );
  return i16x8.narrow_i32x4_s(i32x4.shr_s(low, backFraction), i32x4.shr_s(high, backFraction));
}

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
  for (let row = 0; row < rows; row++) {
    const from = row * fromStride;
    const into = row * intoStride;
    let x = 0;
    for (; x + 8 <= widthPx; x += 8) {
      const y = i16x8.sub(v128.load8x8_u(luma + from + x), i16x8.splat(<i16>black));
      const u = i16x8.sub(v128.load8x8_u(blue + from + x), i16x8.splat(128));
      const v = i16x8.sub(v128.load8x8_u(red + from + x), i16x8.splat(128));
      const r = eightOfColour(y, v, none, ofLuma, redOfRed, none);
      const g = eightOfColour(y, u, v, ofLuma, greenOfBlue, greenOfRed);
      const b = eightOfColour(y, u, none, ofLuma, blueOfBlue, none);
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

/** A difference of one matrix and range in another: each pair by itself, both fourfold and without what stands for none. */
// @ts-ignore: a decorator
@inline
function turnedDifference(first: i32, second: i32, ofFirst: i32, ofSecond: i32): u8 {
  const bits = matrixFraction + 2;
  const sum = first * ofFirst + second * ofSecond + (128 << bits);
  return <u8>clampTo(255, (sum + (1 << (bits - 1))) >> bits);
}

/** A difference fourfold where it lies on the left pixel of two, or brought to between them. */
// @ts-ignore: a decorator
@inline
function placed(line: usize, at: i32, last: i32, centred: i32): i32 {
  const own = <i32>load<u8>(line + at);
  return 3 * own + (centred ? <i32>load<u8>(line + min(last, at + 1)) : own) - 512;
}

/** A difference between its lines: three parts of the near one, one of the far one, without what stands for none. */
// @ts-ignore: a decorator
@inline
function betweenLines(near: usize, far: usize, at: i32): i32 {
  return 3 * <i32>load<u8>(near + at) + <i32>load<u8>(far + at) - 512;
}

// @ts-ignore: a decorator
@inline
function eightBetweenLines(near: usize, far: usize, at: i32): v128 {
  const three = i16x8.mul(v128.load8x8_u(near + at), i16x8.splat(3));
  return i16x8.sub(i16x8.add(three, v128.load8x8_u(far + at)), i16x8.splat(512));
}

/** Eight samples of luma; the differences come eightfold. */
// @ts-ignore: a decorator
@inline
function lumaOf(y: v128, blue: v128, red: v128, ofLuma: v128, ofBlue: v128, ofRed: v128, start: v128): v128 {
  const low = i32x4.add(
    i32x4.add(i32x4.extmul_low_i16x8_s(y, ofLuma), start),
    i32x4.add(i32x4.extmul_low_i16x8_s(blue, ofBlue), i32x4.extmul_low_i16x8_s(red, ofRed)),
  );
  const high = i32x4.add(
    i32x4.add(i32x4.extmul_high_i16x8_s(y, ofLuma), start),
    i32x4.add(i32x4.extmul_high_i16x8_s(blue, ofBlue), i32x4.extmul_high_i16x8_s(red, ofRed)),
  );
  return i16x8.narrow_i32x4_s(i32x4.shr_s(low, matrixFraction), i32x4.shr_s(high, matrixFraction));
}

/**
 * 4:2:0 of one matrix and range to 4:2:0 of others. Luma takes part of the differences, which are brought to each pixel
 * for it; differences take nothing of luma.
 * @param lumaWeights of luma, of the blue and of the red difference (those two for differences eightfold)
 * @param differenceWeights blue of blue, blue of red, red of blue, red of red
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
): void {
  const bias = (intoBlack << matrixFraction) + (1 << (matrixFraction - 1));
  const start = i32x4.splat(bias);
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
      const b = eightBetweenLines(blue + near, blue + far, k);
      const bNext = i16x8.add(b, eightBetweenLines(blue + near, blue + far, k + 1));
      const bOwn = i16x8.add(b, b);
      const r = eightBetweenLines(red + near, red + far, k);
      const rNext = i16x8.add(r, eightBetweenLines(red + near, red + far, k + 1));
      const rOwn = i16x8.add(r, r);
      const first = lumaOf(
        i16x8.sub(v128.load8x8_u(from + 2 * k), i16x8.splat(<i16>black)),
        v128.shuffle<i16>(bOwn, bNext, 0, 8, 1, 9, 2, 10, 3, 11),
        v128.shuffle<i16>(rOwn, rNext, 0, 8, 1, 9, 2, 10, 3, 11),
        ofLuma,
        ofBlue,
        ofRed,
        start,
      );
      const second = lumaOf(
        i16x8.sub(v128.load8x8_u(from + 2 * k, 8), i16x8.splat(<i16>black)),
        v128.shuffle<i16>(bOwn, bNext, 4, 12, 5, 13, 6, 14, 7, 15),
        v128.shuffle<i16>(rOwn, rNext, 4, 12, 5, 13, 6, 14, 7, 15),
        ofLuma,
        ofBlue,
        ofRed,
        start,
      );
      v128.store(into + 2 * k, i8x16.narrow_i16x8_u(first, second));
    }
    for (let x = 2 * k; x < widthPx; x++) {
      const own = x >> 1;
      const next = x & 1 ? min(last, own + 1) : own;
      const b = betweenLines(blue + near, blue + far, own) + betweenLines(blue + near, blue + far, next);
      const r = betweenLines(red + near, red + far, own) + betweenLines(red + near, red + far, next);
      const y = <i32>load<u8>(from + x) - black;
      const sum = y * weightOf(lumaWeights, 0) + b * weightOf(lumaWeights, 1) + r * weightOf(lumaWeights, 2);
      store<u8>(into + x, clampTo(255, (sum + bias) >> matrixFraction));
    }
    if (row & 1) continue;
    const intoLine = (row >> 1) * intoDifferenceStride;
    for (let x = 0; x < half; x++) {
      const b = placed(blue + near, x, last, centred);
      const r = placed(red + near, x, last, centred);
      const weights = differenceWeights;
      store<u8>(intoBlue + intoLine + x * step, turnedDifference(b, r, weightOf(weights, 0), weightOf(weights, 1)));
      store<u8>(intoRed + intoLine + x * step, turnedDifference(b, r, weightOf(weights, 2), weightOf(weights, 3)));
    }
  }
}
