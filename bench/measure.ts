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
