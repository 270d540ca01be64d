import { driveStalls, streamSeed } from './draws';
import { gameStartUs, type PathParameters } from './parameters';

/** The drive of a simulated path: first come first served, standing still now and then. */
export interface DriveQueue {
  /** Hands bytes over. @returns when the last of them is written */
  handOver(nowUs: number, bytes: number): number;
  /** Bytes that wait at a time, the piece being written included. Ask in rising order of time. */
  waitingBytes(nowUs: number): number;
  /** How long the oldest bytes have waited, 0 if nothing waits. */
  oldestUs(nowUs: number): number;
  /** How long ago a write last ended, 0 if nothing waits. */
  sinceLastWriteUs(nowUs: number): number;
  busyUs(): number;
}

export function createDriveQueue(p: PathParameters, endUs: number): DriveQueue {
  const { drive } = p;
  const bytesPerUs = drive.bytesPerSecond / 1e6 / Math.max(1, drive.contention);
  const stalls = driveStalls(
    streamSeed(p.seed, 'drive'),
    endUs + 60e6,
    drive.stallsPerSecond,
    drive.stallMedianUs,
    drive.stallSigma,
  );
  const pieces: { bytes: number; handedUs: number; startUs: number; endUs: number }[] = [];
  let freeUs = 0;
  let busyUs = 0;
  let stallAt = 0;
  let first = 0;
  if (drive.waitingFromStartBytes > 0) enqueue(gameStartUs, drive.waitingFromStartBytes);

  function writeFrom(startUs: number, bytes: number): number {
    let at = startUs;
    let left = bytes / bytesPerUs;
    while (stallAt < stalls.length && stalls[stallAt]![1] <= at) stallAt++;
    for (let s = stallAt; s < stalls.length; s++) {
      const [from, to] = stalls[s]!;
      if (from >= at + left) break;
      if (from > at) left -= from - at;
      at = to;
    }
    return at + left;
  }

  function enqueue(nowUs: number, bytes: number): number {
    const startUs = Math.max(nowUs, freeUs);
    const doneUs = writeFrom(startUs, bytes);
    busyUs += doneUs - startUs;
    freeUs = doneUs;
    pieces.push({ bytes, handedUs: nowUs, startUs, endUs: doneUs });
    return doneUs;
  }

  return {
    handOver: enqueue,
    waitingBytes(nowUs) {
      while (first < pieces.length && pieces[first]!.endUs <= nowUs) first++;
      let waiting = 0;
      for (let i = first; i < pieces.length; i++) {
        const piece = pieces[i]!;
        if (nowUs <= piece.startUs) waiting += piece.bytes;
        else waiting += (piece.bytes * (piece.endUs - nowUs)) / (piece.endUs - piece.startUs);
      }
      return waiting;
    },
    oldestUs(nowUs) {
      while (first < pieces.length && pieces[first]!.endUs <= nowUs) first++;
      return first < pieces.length ? nowUs - pieces[first]!.handedUs : 0;
    },
    sinceLastWriteUs(nowUs) {
      if (first >= pieces.length) return 0;
      const stall = stalls.find(([from, to]) => from <= nowUs && nowUs < to);
      return stall ? nowUs - stall[0] : 0;
    },
    busyUs: () => busyUs,
  };
}
