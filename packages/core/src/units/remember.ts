/** Values of a longer array are worked out anew: hours of play are not worth keeping. */
const keptLength = 20_000;

/**
 * A pure function of its key's parts that remembers its last results: candidate recipes ask for the same draws again.
 * @param most results that are kept; the oldest goes first
 * @returns arrays that are shared and not to be written to
 */
export function remembering<Args extends readonly unknown[]>(
  most: number,
  keyOf: (...args: Args) => string,
  work: (...args: Args) => Float64Array,
): (...args: Args) => Float64Array {
  const kept = new Map<string, Float64Array>();
  return (...args) => {
    const key = keyOf(...args);
    const known = kept.get(key);
    if (known) return known;
    const result = work(...args);
    if (result.length > keptLength) return result;
    if (kept.size >= most) kept.delete(kept.keys().next().value ?? key);
    kept.set(key, result);
    return result;
  };
}
