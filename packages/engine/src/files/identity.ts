import { closeSync, fstatSync, futimesSync, openSync, statSync, type BigIntStats } from 'node:fs';
import type { FileIdentity } from '@mellow/model';

const fromStats = (stats: BigIntStats, bornNs: string | null): FileIdentity => ({
  device: String(stats.dev),
  inode: String(stats.ino),
  bornNs,
});

/**
 * Identity of a file that was just made and is open. Where the file system keeps no time of birth, Node tells the time of
 * the last change instead; a change of times tells the two apart.
 */
export function identityOfNew(handle: number): FileIdentity {
  const before = fstatSync(handle, { bigint: true });
  for (let tries = 0; tries < 20; tries++) {
    futimesSync(handle, new Date(), new Date());
    const after = fstatSync(handle, { bigint: true });
    if (after.birthtimeNs !== before.birthtimeNs) return fromStats(after, null);
    if (after.ctimeNs !== before.birthtimeNs && after.birthtimeNs > 0n)
      return fromStats(after, String(after.birthtimeNs));
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 2);
  }
  return fromStats(before, null);
}

const sameStats = (identity: FileIdentity, stats: BigIntStats): boolean =>
  identity.inode === String(stats.ino) &&
  // The number of a drive may differ after it was plugged in again; where a birth is known, it decides.
  (identity.bornNs === null ? identity.device === String(stats.dev) : identity.bornNs === String(stats.birthtimeNs));

/** Whether an open file is the one of an identity. */
export const isSameOpenFile = (identity: FileIdentity, handle: number): boolean =>
  sameStats(identity, fstatSync(handle, { bigint: true }));

/** What lies at a path: nothing, the file of the identity, or another one. */
export function whatLiesAt(path: string, identity: FileIdentity): 'nothing' | 'same' | 'other' {
  const stats = statSync(path, { bigint: true, throwIfNoEntry: false });
  if (!stats) return 'nothing';
  return stats.isFile() && sameStats(identity, stats) ? 'same' : 'other';
}

/** Identity of a file of ours that is written and closed; the date by which people sort it stays. */
export function identityOfPath(path: string): FileIdentity {
  const stats = statSync(path, { bigint: true });
  // Where no birth is kept, the time of the last change stands in its place.
  if (stats.birthtimeNs > 0n && stats.birthtimeNs !== stats.ctimeNs && stats.birthtimeNs !== stats.mtimeNs)
    return fromStats(stats, String(stats.birthtimeNs));
  const handle = openSync(path, 'r+');
  try {
    const identity = identityOfNew(handle);
    futimesSync(handle, secondsOf(stats.atimeNs), secondsOf(stats.mtimeNs));
    return identity;
  } finally {
    closeSync(handle);
  }
}

function secondsOf(ns: bigint): number {
  return Number(ns) / 1e9;
}
