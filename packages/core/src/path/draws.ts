import { randomStream, remembering } from '../units';

/** Standard normal numbers from a seeded stream, two at a time (Box and Muller). */
export function normalStream(seed: number): () => number {
  const uniform = randomStream(seed);
  let spare: number | null = null;
  return () => {
    if (spare !== null) {
      const value = spare;
      spare = null;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - uniform()));
    const angle = 2 * Math.PI * uniform();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
}

/**
 * Factors of work with mean 1: exp(x_n - var/2), x autoregressive of order 1 with variance ln(1 + cv^2) and
 * correlation phi from one frame to the next, so that heavy frames come in runs (docs/model.md, "Simulation").
 */
export const workFactors = remembering(
  128,
  (seed: number, length: number, cv: number, phi: number) => `${seed} ${length} ${cv} ${phi}`,
  drawFactors,
);

function drawFactors(seed: number, length: number, cv: number, phi: number): Float64Array {
  const factors = new Float64Array(length).fill(1);
  if (cv <= 0) return factors;
  const normal = normalStream(seed);
  const variance = Math.log(1 + cv * cv);
  const sigma = Math.sqrt(variance);
  const rest = Math.sqrt(1 - phi * phi);
  let z = normal();
  for (let n = 0; n < length; n++) {
    factors[n] = Math.exp(sigma * z - variance / 2);
    z = phi * z + rest * normal();
  }
  return factors;
}

/** Each stream of draws has a seed of its own, so that changing one station leaves the draws of the others as they are. */
const streams = ['game', 'encode', 'drive', 'wake', 'bytes', 'present', 'turn'] as const;
export const streamSeed = (seed: number, stream: (typeof streams)[number]): number =>
  (seed * 8 + streams.indexOf(stream)) >>> 0;

/** Periods during which a drive stands still: a Poisson process with lognormal lengths, in microseconds. */
export function driveStalls(
  seed: number,
  endUs: number,
  perSecond: number,
  medianUs: number,
  sigma: number,
): [number, number][] {
  const stalls: [number, number][] = [];
  if (perSecond <= 0) return stalls;
  const uniform = randomStream(seed);
  const normal = normalStream(seed ^ 0x5bd1e995);
  for (let at = 0; ;) {
    at += (-Math.log(1 - uniform()) * 1e6) / perSecond;
    if (at >= endUs) return stalls;
    const length = medianUs * Math.exp(sigma * normal());
    stalls.push([at, at + length]);
    at += length;
  }
}
