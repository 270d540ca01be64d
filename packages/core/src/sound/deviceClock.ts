/**
 * When a device's samples were really taken, from when they arrived (docs/model.md, "Sound from outside"). A chunk never arrives
 * before its last sample was taken, and often shortly after: the earliest arrivals of each second lie on the device's own
 * clock, a line whose slope is its rate and whose distance is its shortest delay.
 */
const windowUs = 1_000_000;
const mostWindows = 60;
/** Seconds of line before its slope is believed. */
const leastWindowsForSlope = 8;
/** A delay changes by less while all samples come through. */
const newLineUs = 40_000;
/** A crystal is off by less; more is a fault of the estimate. */
const mostDriftPpm = 2000;

export interface DeviceClock {
  /** A chunk has arrived: `count` samples in all so far, the last of them now. */
  arrived(count: number, arrivalUs: number): void;
  /** Number of the sample that was taken at a time; null before the first chunk. */
  sampleAt(timeUs: number): number | null;
  /** By how much it runs faster than the picture's clock, parts per million; null before it can be told. */
  driftPpm(): number | null;
}

interface Earliest {
  count: number;
  timeUs: number;
}

export function createDeviceClock(rateHz: number): DeviceClock {
  const nominalUs = 1e6 / rateHz;
  const windows: Earliest[] = [];
  let current: { endUs: number; earliest: Earliest } | null = null;
  let line: { count: number; timeUs: number; periodUs: number } | null = null;
  let known = false;

  const lateness = ({ count, timeUs }: Earliest, periodUs: number): number => timeUs - count * periodUs;

  /** A window is over. Where even its earliest chunk does not fit the line, samples were lost or doubled: a new line begins. */
  function close(earliest: Earliest): void {
    const off = line ? lateness(earliest, line.periodUs) - lateness(line, line.periodUs) : 0;
    if (Math.abs(off) > newLineUs) windows.length = 0;
    windows.push(earliest);
  }

  function fit(): void {
    const points = current && windows.length < 2 ? [...windows, current.earliest] : windows;
    const last = points[points.length - 1];
    if (!last) return;
    known = points.length >= leastWindowsForSlope;
    const periodUs = known ? slopeOf(points) : nominalUs;
    // Over the last few seconds only: a delay that has grown for good is followed, one that was short once is let go.
    const recent = points
      .slice(-10)
      .reduce((best, point) => (lateness(point, periodUs) < lateness(best, periodUs) ? point : best));
    line = { ...recent, periodUs };
  }

  /** Least squares over the windows' earliest chunks. */
  function slopeOf(points: readonly Earliest[]): number {
    const [n0, t0] = [points[0]?.count ?? 0, points[0]?.timeUs ?? 0];
    let [sn, st, snn, snt] = [0, 0, 0, 0];
    for (const { count, timeUs } of points) {
      const [n, t] = [count - n0, timeUs - t0];
      sn += n;
      st += t;
      snn += n * n;
      snt += n * t;
    }
    const slope = (points.length * snt - sn * st) / (points.length * snn - sn * sn);
    const most = (nominalUs * mostDriftPpm) / 1e6;
    return Math.max(nominalUs - most, Math.min(nominalUs + most, slope));
  }

  return {
    arrived(count, arrivalUs) {
      const now = { count, timeUs: arrivalUs };
      if (!current || arrivalUs >= current.endUs) {
        if (current) close(current.earliest);
        if (windows.length > mostWindows) windows.shift();
        current = { endUs: arrivalUs + windowUs, earliest: now };
        fit();
      } else if (lateness(now, nominalUs) < lateness(current.earliest, nominalUs)) {
        current.earliest = now;
        if (windows.length < 2) fit();
      }
    },
    sampleAt: (timeUs) => (line ? line.count + (timeUs - line.timeUs) / line.periodUs : null),
    driftPpm: () => (known && line ? (nominalUs / line.periodUs - 1) * 1e6 : null),
  };
}
