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
