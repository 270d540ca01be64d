import type { LiveTake } from '@mellow/model';

/** A rate is told from so much of a take on; before, the first key pictures would tell it wrongly. */
const leastUs = 8e6;

/** Seconds until the file is closed by itself at the rate it was written with so far; null where that is not known. */
export function roomLeftS({
  roomBytes,
  bytesWritten,
  elapsedUs,
}: Pick<LiveTake, 'roomBytes' | 'bytesWritten' | 'elapsedUs'>): number | null {
  if (roomBytes === null || elapsedUs < leastUs || bytesWritten <= 0) return null;
  return (roomBytes * elapsedUs) / 1e6 / bytesWritten;
}

/** Room that is running out is told at so many seconds, each once. */
export const roomWarningsS = [600, 120] as const;

/** The warning that is due now: the least that has been reached and not been told. @param toldS the last that was told */
export const roomWarningDue = (leftS: number | null, toldS: number | null): (typeof roomWarningsS)[number] | null => {
  const reached =
    leftS === null ? [] : roomWarningsS.filter((warnS) => leftS <= warnS && (toldS === null || warnS < toldS));
  return reached.at(-1) ?? null;
};
