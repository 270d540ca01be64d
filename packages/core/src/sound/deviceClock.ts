import { percentileOfSorted } from '../units/statistics';

/**
 * When a device's samples were really taken, from when they arrived (docs/model.md, "Sound from outside"). A chunk never arrives
 * before its last sample was taken, and often shortly after: the earliest arrivals of each second lie on the device's own
 * clock, a line whose slope is its rate and whose distance is its shortest delay.
 */
const windowUs = 1_000_000;
const mostWindows = 300;
/** Windows that a drift is taken between lie apart by so many at least, and there are so many pairs of them. */
const leastApart = 6;
const leastPairs = 6;
/** A delay changes by less while all samples come through. */
const newLineUs = 40_000;
const lateForNewLine = 3;
/** A crystal is off by less; more is a fault of the estimate. */
const mostDriftPpm = 2000;

export interface DeviceClock {
  /** A chunk has arrived: `count` samples in all so far, the last of them now. */
  arrived(count: number, arrivalUs: number): void;
  /** Number of the sample that was taken at a time; null before the first chunk. */
  sampleAt(timeUs: number): number | null;
  /** Samples it takes while the picture's clock counts one of the nominal rate: 1 before it is known. */
  rate(): number;
  /** By how much it runs faster than the picture's clock, parts per million; null where it cannot be told from not at all. */
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
  let driftPpm: number | null = null;
  let lateInRow = 0;

  const lateness = ({ count, timeUs }: Earliest, periodUs: number): number => timeUs - count * periodUs;

  /**
   * A window is over. Where its earliest chunk came far too early, samples were doubled, and where that of several in a row came
   * far too late, samples were lost: a new line begins. A single late one is a PC that let nobody run.
   */
  function close(earliest: Earliest): void {
    const off = line ? lateness(earliest, line.periodUs) - lateness(line, line.periodUs) : 0;
    lateInRow = off > newLineUs ? lateInRow + 1 : 0;
    if (off < -newLineUs) windows.length = 0;
    if (lateInRow === lateForNewLine) windows.splice(0, windows.length - lateForNewLine + 1);
    windows.push(earliest);
  }

  function fit(): void {
    const points = current && windows.length < 2 ? [...windows, current.earliest] : windows;
    const last = points[points.length - 1];
    if (!last) return;
    driftPpm = driftOf(points, nominalUs);
    const periodUs = nominalUs / (1 + (driftPpm ?? 0) / 1e6);
    // Over the last few seconds only: a delay that has grown for good is followed, one that was short once is let go.
    const recent = points
      .slice(-10)
      .reduce((best, point) => (lateness(point, periodUs) < lateness(best, periodUs) ? point : best));
    line = { ...recent, periodUs };
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
    rate: () => (line ? nominalUs / line.periodUs : 1),
    driftPpm: () => driftPpm,
  };
}

/**
 * The device's own drift, parts per million: the middle one of the drifts between windows that lie a sixth of the time apart.
 * A delay that changes for good puts few of those off, late seconds as well (after Theil 1950 and Sen 1968, with pairs of one
 * distance). Null where the middle half of them spreads by more than it: then it may as well be none.
 */
function driftOf(points: readonly Earliest[], nominalUs: number): number | null {
  const apart = Math.max(leastApart, Math.floor(points.length / 6));
  const drifts = points
    .slice(apart)
    .map(({ count, timeUs }, i) => {
      const from = points[i] as Earliest;
      return (((count - from.count) * nominalUs) / (timeUs - from.timeUs) - 1) * 1e6;
    })
    .toSorted((a, b) => a - b);
  if (drifts.length < leastPairs) return null;
  const middle = percentileOfSorted(drifts, 0.5);
  const clear = Math.abs(middle) > percentileOfSorted(drifts, 0.75) - percentileOfSorted(drifts, 0.25);
  return clear ? Math.max(-mostDriftPpm, Math.min(mostDriftPpm, middle)) : null;
}
