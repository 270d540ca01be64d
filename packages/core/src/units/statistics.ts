/**
 * Percentile by linear interpolation between closest ranks (position p x (n - 1); Hyndman and Fan, type 7).
 * @param sorted ascending, at least one value
 */
export function percentileOfSorted(sorted: ArrayLike<number>, p: number): number {
  const position = p * (sorted.length - 1);
  const below = Math.floor(position);
  const above = Math.min(sorted.length - 1, below + 1);
  const low = sorted[below] ?? 0;
  return low + ((sorted[above] ?? low) - low) * (position - below);
}

/** The values in ascending order, without changing the given ones. */
export function ascending(values: ArrayLike<number>): Float64Array {
  return new Float64Array(values).sort();
}

export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i] ?? 0;
  return values.length ? sum / values.length : 0;
}
