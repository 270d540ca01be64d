import { frameRateSchema, type FrameRate } from '@mellow/model';

/**
 * Due time of frame n in integer microseconds: n x den / num seconds, rounded to the nearest microsecond.
 * Whole seconds are split off first, so that the result is exact (no drift) for any n below 2^53 / den.
 */
export function dueUs(rate: FrameRate, n: number): number {
  const units = n * rate.den;
  const seconds = Math.floor(units / rate.num);
  const rest = units - seconds * rate.num;
  return seconds * 1_000_000 + Math.round((rest * 1_000_000) / rate.num);
}

/** Length of one frame in microseconds (not rounded): den x 10^6 / num. */
export function periodUs(rate: FrameRate): number {
  return (rate.den * 1_000_000) / rate.num;
}

/** Frames a second as a plain number, for display and estimates only. */
export function framesPerSecond(rate: FrameRate): number {
  return rate.num / rate.den;
}

/** Index of the due whose time is nearest to `timeUs`; used to match time stamps that a container rounded. */
export function nearestDue(rate: FrameRate, timeUs: number): number {
  const estimate = Math.max(0, Math.floor((timeUs * rate.num) / (rate.den * 1_000_000)) - 1);
  let best = estimate;
  for (let n = estimate; n <= estimate + 3; n++) {
    if (Math.abs(dueUs(rate, n) - timeUs) < Math.abs(dueUs(rate, best) - timeUs)) best = n;
  }
  return best;
}

/** Number of due frames in a length of seconds, at least 1. */
export function dueFramesIn(rate: FrameRate, seconds: number): number {
  return Math.max(1, Math.round((seconds * rate.num) / rate.den));
}

const commonDenominator = 1001;

/**
 * Reads a typed frame rate: "60", "30000/1001", "29.97", "12.5".
 * Decimals within 0.005 of an NTSC fraction mean that fraction. Returns null where the text is no rate from 1 to 480.
 */
export function parseFrameRate(text: string): FrameRate | null {
  const trimmed = text.trim();
  const fraction = /^(\d{1,7})\s*\/\s*(\d{1,6})$/.exec(trimmed);
  let candidate: { num: number; den: number } | null = null;
  if (fraction) {
    candidate = { num: Number(fraction[1]), den: Number(fraction[2]) };
  } else if (/^\d{1,3}$/.test(trimmed)) {
    candidate = { num: Number(trimmed), den: 1 };
  } else if (/^\d{1,3}\.\d{1,3}$/.test(trimmed)) {
    const value = Number(trimmed);
    const whole = Math.ceil(value);
    if (whole === value) return parseFrameRate(String(whole));
    const ntsc = (whole * 1000) / commonDenominator;
    candidate =
      Math.abs(ntsc - value) < 0.005
        ? { num: whole * 1000, den: commonDenominator }
        : { num: Math.round(value * 1000), den: 1000 };
  }
  if (!candidate) return null;
  const divisor = candidate.den === 0 ? 1 : gcd(candidate.num, candidate.den);
  const parsed = frameRateSchema.safeParse({ num: candidate.num / divisor, den: candidate.den / divisor });
  return parsed.success ? parsed.data : null;
}

/** Greatest common divisor of two whole numbers (Euclid). */
export function gcd(a: number, b: number): number {
  let [x, y] = [Math.abs(a), Math.abs(b)];
  while (y) [x, y] = [y, x % y];
  return x || 1;
}
