import type { DriveFacts } from '@mellow/model';

/** Free room kept back so that a take can be closed while it still can be. */
export const reserveBytes = 48e6;

export interface SpeedCheck {
  neededBytesPerSecond: number;
  /** What the drive gives while the game reads from it too; null where it was not measured. */
  availableBytesPerSecond: number | null;
  /** available / needed. */
  headRoom: number | null;
  contention: number;
}

/**
 * How much a drive slows down when the game reads from it (docs/model.md, "Drive": B / (1 + kappa x share)).
 * Much on a hard disk, little on solid state (common practice); kappa is an assumption: 1.5 and 0.25 at a share of one half.
 */
export function contentionOf(kind: DriveFacts['kind'], sharedWithGame: boolean | null): number {
  if (sharedWithGame === false) return 1;
  const kappa = kind === 'hard disk' ? 3 : kind === 'solid state' ? 0.5 : 1;
  const share = sharedWithGame === null ? 0.1 : 0.5;
  return 1 + kappa * share;
}

/** Needed rate against measured speed. */
export function speedCheck(drive: DriveFacts, bytesPerSecond: number, shared: boolean | null): SpeedCheck {
  const contention = contentionOf(drive.kind, shared);
  const available = drive.writeBytesPerSecond === null ? null : drive.writeBytesPerSecond / contention;
  return {
    neededBytesPerSecond: bytesPerSecond,
    availableBytesPerSecond: available,
    headRoom: available === null || bytesPerSecond <= 0 ? null : available / bytesPerSecond,
    contention,
  };
}

/** Bytes a session needs at most at one time: the take, and beside it the plain MP4 made of it. */
export const sessionBytes = (bytesPerSecond: number, minutes: number, rewrap: boolean): number =>
  bytesPerSecond * 60 * minutes * (rewrap ? 2 : 1);

/** Whole sessions that fit: each leaves take and copy behind, and the reserve stays free. */
export function sessionsThatFit(freeBytes: number, bytesPerSecond: number, minutes: number, rewrap: boolean): number {
  const each = sessionBytes(bytesPerSecond, minutes, rewrap);
  return each > 0 ? Math.max(0, Math.floor((freeBytes - reserveBytes) / each)) : 0;
}

/** Longest take in minutes that fits with its copy. */
export const longestMinutes = (freeBytes: number, bytesPerSecond: number, rewrap: boolean): number =>
  bytesPerSecond > 0 ? Math.max(0, (freeBytes - reserveBytes) / (bytesPerSecond * 60 * (rewrap ? 2 : 1))) : Infinity;

export interface Part {
  number: number;
  fromS: number;
  toS: number;
  bytes: number;
}

/** A part holds at least one cluster. */
const shortestPartS = 1;

/** Parts of a split take: each ends after so many seconds or bytes, whichever is set; the last one is shorter. */
export function partsOf(
  lengthS: number,
  bytesPerSecond: number,
  limit: { seconds: number } | { bytes: number } | null,
): Part[] {
  const asked =
    limit === null ? lengthS : 'seconds' in limit ? limit.seconds : limit.bytes / Math.max(1, bytesPerSecond);
  const each = Math.max(shortestPartS, asked);
  const count = Math.max(1, Math.ceil(lengthS / each - 1e-9));
  return Array.from({ length: count }, (_, i) => {
    const fromS = i * each;
    const toS = Math.min(lengthS, (i + 1) * each);
    return { number: i + 1, fromS, toS, bytes: (toS - fromS) * bytesPerSecond };
  });
}

/** Minutes to send a file over a line. */
export const uploadMinutes = (bytes: number, megabitsPerSecond: number): number =>
  (bytes * 8) / (megabitsPerSecond * 1e6) / 60;

/** Seconds of hindsight as bytes: b/s / 8 x s. */
export const hindsightBytes = (bitsPerSecond: number, seconds: number): number => (bitsPerSecond / 8) * seconds;
