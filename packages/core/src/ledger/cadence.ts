import type { FrameRate } from '@mellow/model';
import { framesPerSecond, gcd } from '../units';

/** What becomes of frames when one constant rate is shown at another. */
export interface Cadence {
  /** For each output frame of one cycle, the source frame it shows. */
  shows: number[];
  /** Source and output frames of one cycle, after which the pattern comes again. */
  sourceFrames: number;
  outputFrames: number;
  /** Source frames that are never shown, and output frames that show one again, in a cycle. */
  vanish: number;
  repeat: number;
  /** Root mean square of (shown - due) against its mean, milliseconds: 0 is perfectly even. */
  unevenMs: number;
}

const longestCycle = 2000;

/**
 * Cadence of a conversion by the nearest time stamp: source frame k lands on output round(k x to / from), halves away from zero;
 * an output frame shows the last source frame that landed on it or before (as FFmpeg's fps filter does with round=near).
 */
export function cadenceOf(from: FrameRate, to: FrameRate): Cadence {
  const num = to.num * from.den;
  const den = to.den * from.num;
  const divisor = gcd(num, den);
  const [outputFrames, sourceFrames] = [num / divisor, den / divisor];
  const count = Math.min(outputFrames, longestCycle);
  const shows = Array.from({ length: count }, (_, n) => lastLandingBy(n, num, den));
  const distinct = new Set(shows).size;
  const fromPeriodMs = 1000 / framesPerSecond(from);
  const toPeriodMs = 1000 / framesPerSecond(to);
  const errors = shows.map((k, n) => k * fromPeriodMs - n * toPeriodMs);
  const mean = errors.reduce((sum, e) => sum + e, 0) / errors.length;
  return {
    shows,
    sourceFrames,
    outputFrames,
    vanish: Math.max(0, sourceFrames - distinct),
    repeat: shows.length - distinct,
    unevenMs: Math.sqrt(errors.reduce((sum, e) => sum + (e - mean) ** 2, 0) / errors.length),
  };
}

/** The last k with round(k x num / den) <= n: (2 k num + den) / (2 den) < n + 1. */
function lastLandingBy(n: number, num: number, den: number): number {
  const limit = (2 * n + 1) * den;
  // 2 k num < limit, strictly: a half lands on the next one.
  return Math.max(0, Math.ceil(limit / (2 * num)) - 1);
}

/** Slow motion = timeline fps / recorded fps (240 on 60: 0.25). */
export const slowMotionFactor = (timelineFps: number, recordedFps: number): number => timelineFps / recordedFps;
