/** What the kernels share: weights, and samples held within their bits. */

// @ts-ignore: a decorator
@inline
export function clampTo(most: i32, value: i32): i32 {
  return max(0, min(most, value));
}

// @ts-ignore: a decorator
@inline
export function weightOf(packed: i64, index: i32): i32 {
  return <i32>(<i16>(packed >> (16 * index)));
}

/** Eight samples of up to 10 bits, held within them and lifted to where they lie in 16. */
// @ts-ignore: a decorator
@inline
export function wideWords(words: v128, lift: i32): v128 {
  return i16x8.shl(i16x8.min_s(i16x8.max_s(words, i16x8.splat(0)), i16x8.splat(1023)), lift);
}

/** Eight samples that take weighted parts of three others each. @param start what is added before the bits behind the point go */
// @ts-ignore: a decorator
@inline
export function eightOfThree(a: v128, b: v128, c: v128, ofA: v128, ofB: v128, ofC: v128, start: v128, fraction: i32): v128 {
  const low = i32x4.add(
    i32x4.add(i32x4.extmul_low_i16x8_s(a, ofA), start),
    i32x4.add(i32x4.extmul_low_i16x8_s(b, ofB), i32x4.extmul_low_i16x8_s(c, ofC)),
  );
  const high = i32x4.add(
    i32x4.add(i32x4.extmul_high_i16x8_s(a, ofA), start),
    i32x4.add(i32x4.extmul_high_i16x8_s(b, ofB), i32x4.extmul_high_i16x8_s(c, ofC)),
  );
  return i16x8.narrow_i32x4_s(i32x4.shr_s(low, fraction), i32x4.shr_s(high, fraction));
}
