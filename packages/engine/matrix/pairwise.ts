/** Values of each parameter, by name. */
export type Parameters = Record<string, readonly unknown[]>;
export type Combination<P extends Parameters> = { [K in keyof P]: P[K][number] };

/**
 * A small list of combinations in which every pair of values of two parameters occurs at least once, as far as `fits`
 * allows it: greedy, and the same on every run.
 */
export function pairwise<P extends Parameters>(parameters: P, fits: (c: Combination<P>) => boolean): Combination<P>[] {
  const names = Object.keys(parameters);
  const key = (a: number, i: number, b: number, j: number): string => `${a}:${i}|${b}:${j}`;
  const open = new Set<string>();
  names.forEach((_, a) =>
    names.forEach((_name, b) => {
      if (b <= a) return;
      parameters[names[a]!]!.forEach((_v, i) => parameters[names[b]!]!.forEach((_w, j) => open.add(key(a, i, b, j))));
    }),
  );
  let seed = 7;
  const random = (): number => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648;
  const build = (indices: readonly number[]): Combination<P> =>
    Object.fromEntries(names.map((name, a) => [name, parameters[name]![indices[a]!]])) as Combination<P>;
  const gainOf = (indices: readonly number[]): number => {
    let gain = 0;
    for (let a = 0; a < names.length; a++)
      for (let b = a + 1; b < names.length; b++) if (open.has(key(a, indices[a]!, b, indices[b]!))) gain++;
    return gain;
  };
  const list: Combination<P>[] = [];
  for (let misses = 0; open.size && misses < 40;) {
    let best: number[] | null = null;
    let bestGain = 0;
    // Candidates begin from a pair that is still open, the rest is drawn.
    const [first, second] = [...open]
      [Math.floor(random() * open.size)]!.split('|')
      .map((part) => part.split(':').map(Number));
    for (let tries = 0; tries < 120; tries++) {
      const indices = names.map((name) => Math.floor(random() * parameters[name]!.length));
      indices[first![0]!] = first![1]!;
      indices[second![0]!] = second![1]!;
      const gain = gainOf(indices);
      if (gain <= bestGain || !fits(build(indices))) continue;
      [best, bestGain] = [indices, gain];
    }
    if (!best) {
      // A pair that fits nowhere cannot be tried.
      misses++;
      open.delete(key(first![0]!, first![1]!, second![0]!, second![1]!));
      continue;
    }
    misses = 0;
    for (let a = 0; a < names.length; a++)
      for (let b = a + 1; b < names.length; b++) open.delete(key(a, best[a]!, b, best[b]!));
    list.push(build(best));
  }
  return list;
}
