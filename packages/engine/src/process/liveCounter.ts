import { causes, fates, type Cause, type Fate } from '@mellow/model';

type SecondCounts = [number, number, number, number, number];

/** Seconds that are kept for the strip of the last minute. */
const secondsKept = 60;
const column: Partial<Record<Fate, number>> = {
  new: 0,
  repeat: 1,
  'capture-miss': 2,
  'encode-miss': 3,
  'write-miss': 4,
};

/** Counts of fates and causes as rows settle, and those of the last minute by second. */
export function createLiveCounter() {
  const fateCounts = Object.fromEntries(fates.map((name) => [name, 0])) as Record<Fate, number>;
  const causeCounts = Object.fromEntries(causes.map((name) => [name, 0])) as Record<Cause, number>;
  const recent: SecondCounts[] = [];
  let firstSecond = 0;
  return {
    count(fateIndex: number, causeIndex: number, second: number) {
      const fate = fates[fateIndex] ?? 'pending';
      const cause = causes[causeIndex] ?? 'none';
      fateCounts[fate]++;
      causeCounts[cause]++;
      while (firstSecond + recent.length <= second) recent.push([0, 0, 0, 0, 0]);
      while (recent.length > secondsKept) {
        recent.shift();
        firstSecond++;
      }
      const row = recent[second - firstSecond];
      const at = column[fate];
      if (row && at !== undefined) row[at] = (row[at] ?? 0) + 1;
    },
    snapshot: () => ({
      fates: { ...fateCounts },
      causes: { ...causeCounts },
      lastMinute: recent.map((row) => [...row] as SecondCounts),
    }),
  };
}
