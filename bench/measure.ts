/** One line of the table: a ratio or a figure, its goal where it has one, and whether it holds. */
export interface BenchResult {
  name: string;
  value: number;
  unit: string;
  goal: string | null;
  holds: boolean | null;
}

export const median = (values: readonly number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = Math.floor(sorted.length / 2);
  return sorted.length % 2 ? (sorted[middle] ?? 0) : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
};

/**
 * The fastest of several measurements a second and a half apart: a machine that is shared with others halves its speed for
 * seconds at a time, and what they do is no figure of ours.
 */
export async function shared(measure: () => number, times = 8): Promise<number> {
  let fastest = Infinity;
  for (let i = 0; i < times; i++) {
    if (i) await new Promise((resolve) => setTimeout(resolve, 1500));
    fastest = Math.min(fastest, measure());
  }
  return fastest;
}

export const atLeast = (name: string, value: number, unit: string, goal: number): BenchResult => ({
  name,
  value,
  unit,
  goal: `at least ${goal}`,
  holds: value >= goal,
});
export const atMost = (name: string, value: number, unit: string, goal: number): BenchResult => ({
  name,
  value,
  unit,
  goal: `at most ${goal}`,
  holds: value <= goal,
});
export const figure = (name: string, value: number, unit: string): BenchResult => ({
  name,
  value,
  unit,
  goal: null,
  holds: null,
});
