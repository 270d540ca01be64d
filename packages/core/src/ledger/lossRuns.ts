import { causes, fates, lossFates, type LossRun } from '@mellow/model';
import type { LedgerColumns } from './columns';

const lossCodes = new Set<number>(lossFates.map((fate) => fates.indexOf(fate)));
export const isLoss = (columns: LedgerColumns, row: number): boolean =>
  lossCodes.has(columns.fate[row] ?? 0) || fates[columns.fate[row] ?? 0] === 'missing';

/** Runs that are listed; the first of every cause is always among them. */
export const lossRunsListed = 2000;

export interface LossCounter {
  row(columns: LedgerColumns, row: number, n: number): void;
  /** Lost frames in all, and the runs in order of time, the first 2 000 and the first of each cause. */
  end(): { total: number; runs: LossRun[] };
  /** Most due frames in a row for which the file holds nothing. */
  longestHole(): number;
}

/** Counts lost frames in runs of the same fate and cause, row by row, in memory that does not grow with the take. */
export function createLossCounter(most = lossRunsListed): LossCounter {
  const runs: LossRun[] = [];
  const causesSeen = new Set<string>();
  let open: LossRun | null = null;
  let total = 0;
  let hole = 0;
  let longest = 0;
  const close = (): void => {
    if (!open) return;
    if (runs.length < most || !causesSeen.has(open.cause)) runs.push(open);
    causesSeen.add(open.cause);
    open = null;
  };
  return {
    row(columns, row, n) {
      const lost = isLoss(columns, row);
      hole = lost && columns.filled[row] !== 1 ? hole + 1 : 0;
      longest = Math.max(longest, hole);
      if (!lost) return close();
      total++;
      const fate = fates[columns.fate[row] ?? 0] ?? 'pending';
      const cause = causes[columns.cause[row] ?? 0] ?? 'none';
      if (open && open.fate === fate && open.cause === cause) {
        open.frames++;
        return;
      }
      close();
      open = { atUs: columns.dueUs[row] ?? 0, due: n, frames: 1, fate, cause };
    },
    end() {
      close();
      return { total, runs };
    },
    longestHole: () => longest,
  };
}

/** Lost frames of a whole ledger, in runs. */
export function lossRuns(columns: LedgerColumns): LossRun[] {
  const counter = createLossCounter(Infinity);
  for (let n = 0; n < columns.length; n++) counter.row(columns, n, n);
  return counter.end().runs;
}

/** Most due frames in a row for which the file holds nothing. */
export function longestHole(columns: LedgerColumns): number {
  const counter = createLossCounter(0);
  for (let n = 0; n < columns.length; n++) counter.row(columns, n, n);
  return counter.longestHole();
}
