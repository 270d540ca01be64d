import { causes, fates, lossFates, type LossRun } from '@mellow/model';
import type { LedgerColumns } from './columns';

const lossCodes = new Set<number>(lossFates.map((fate) => fates.indexOf(fate)));
export const isLoss = (columns: LedgerColumns, row: number): boolean =>
  lossCodes.has(columns.fate[row] ?? 0) || fates[columns.fate[row] ?? 0] === 'missing';

/** Lost frames in a row with the same fate and cause, in order of time. */
export function lossRuns(columns: LedgerColumns): LossRun[] {
  const runs: LossRun[] = [];
  for (let n = 0; n < columns.length; n++) {
    if (!isLoss(columns, n)) continue;
    const fate = fates[columns.fate[n] ?? 0] ?? 'pending';
    const cause = causes[columns.cause[n] ?? 0] ?? 'none';
    const last = runs[runs.length - 1];
    if (last && last.due + last.frames === n && last.fate === fate && last.cause === cause) last.frames++;
    else runs.push({ atUs: columns.dueUs[n] ?? 0, due: n, frames: 1, fate, cause });
  }
  return runs;
}

/** Most due frames in a row for which the file holds nothing. */
export function longestHole(columns: LedgerColumns): number {
  let longest = 0;
  let run = 0;
  for (let n = 0; n < columns.length; n++) {
    run = isLoss(columns, n) && columns.filled[n] !== 1 ? run + 1 : 0;
    longest = Math.max(longest, run);
  }
  return longest;
}
