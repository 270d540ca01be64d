import { ascending, percentileOfSorted } from './statistics';

/** So many values are kept as they are; beyond, they are counted in steps. */
const exactValues = 65_536;
/** Steps of 1/256 of an octave: a percentile is off by 0.14 % at most. */
const stepsPerOctave = 256;

export interface QuantileSketch {
  add(value: number): void;
  count(): number;
  mean(): number;
  /** Percentile by linear interpolation while values are exact, else the middle of the step it falls into. */
  percentile(p: number): number;
}

/**
 * Mean and percentiles of a stream of values in memory that does not grow with it: exact up to 65 536 values, then a
 * histogram with steps of equal ratio. Negative values keep their sign, values under 1e-6 count as 0.
 */
export function createQuantileSketch(): QuantileSketch {
  let exact: number[] | null = [];
  const steps = new Map<number, number>();
  let count = 0;
  let sum = 0;
  const stepOf = (value: number): number => {
    const size = Math.abs(value);
    if (size < 1e-6) return 0;
    const step = Math.round(Math.log2(size / 1e-6) * stepsPerOctave) + 1;
    return value < 0 ? -step : step;
  };
  const valueOf = (step: number): number => {
    if (step === 0) return 0;
    const size = 1e-6 * 2 ** ((Math.abs(step) - 1) / stepsPerOctave);
    return step < 0 ? -size : size;
  };
  const tally = (value: number): void => {
    const step = stepOf(value);
    steps.set(step, (steps.get(step) ?? 0) + 1);
  };
  return {
    add(value) {
      count++;
      sum += value;
      if (!exact) return tally(value);
      exact.push(value);
      if (exact.length <= exactValues) return;
      exact.forEach(tally);
      exact = null;
    },
    count: () => count,
    mean: () => (count ? sum / count : 0),
    percentile(p) {
      if (exact) return percentileOfSorted(ascending(exact), p);
      const position = p * (count - 1);
      let seen = 0;
      for (const step of [...steps.keys()].sort((a, b) => a - b)) {
        seen += steps.get(step) ?? 0;
        if (seen > position) return valueOf(step);
      }
      return 0;
    },
  };
}
