/** So many pieces in a row have to be alike. */
const steadyPieces = 6;
/** Alike: the fastest at most so much above the slowest, as a share of their mean. */
const steadySpread = 0.12;

export interface SteadySpeed {
  bytesPerSecond: number;
  /** False: it still changed when the time was over. */
  steady: boolean;
}

const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

/** Whether the last pieces of a test are alike, so that more would tell nothing new. */
export function isSteady(bytesPerSecond: readonly number[]): boolean {
  const last = bytesPerSecond.slice(-steadyPieces);
  return last.length === steadyPieces && Math.max(...last) - Math.min(...last) <= steadySpread * mean(last);
}

/** What the test of a drive does, and how long that takes. */
export const driveTestWords = '4 MB after 4 MB on the drive itself, until the speed is steady: 4 to 20 s';

/** What a drive keeps up in the end: the mean of the last pieces. A drive's own cache makes the first ones faster than it is. */
export function steadySpeed(bytesPerSecond: readonly number[]): SteadySpeed {
  const last = bytesPerSecond.slice(-steadyPieces);
  return { bytesPerSecond: last.length ? mean(last) : 0, steady: isSteady(bytesPerSecond) };
}
