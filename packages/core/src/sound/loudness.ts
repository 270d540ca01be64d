import { sampleRateHz } from '../codec/soundRates';

/**
 * Loudness of stereo at 48 kHz as ITU-R BS.1770-4 defines it: two filters, mean square of both sides together,
 * -0.691 + 10 lg. Coefficients are those of its tables 1 and 2, for 48 kHz.
 */
const shelf = { b: [1.53512485958697, -2.69169618940638, 1.19839281085285], a: [-1.69065929318241, 0.73248077421585] };
const highPass = { b: [1, -2, 1], a: [-1.99004745483398, 0.99007225036621] };
type Biquad = typeof shelf;

/** Pieces of a tenth of a second: the short-term loudness of EBU Tech 3341 is that of the last 3 s of them. */
const pieceSamples = sampleRateHz / 10;
const shortTermPieces = 30;
/** Quieter than anything that counts (the absolute gate of BS.1770-4). */
const gateLufs = -70;

export interface LoudnessMeter {
  /** Interleaved stereo. */
  add(samples: Float32Array): void;
  /** Of the last 3 s, or what there is of them; null where it is silent. */
  shortTermLufs(): number | null;
}

export function createLoudnessMeter(): LoudnessMeter {
  const sides = [0, 1].map(() => [section(shelf), section(highPass)] as const);
  const pieces: number[] = [];
  let sum = 0;
  let counted = 0;
  return {
    add(samples) {
      for (let i = 0; i < samples.length; i += 2) {
        for (let side = 0; side < 2; side++) {
          const [first, second] = sides[side] as (typeof sides)[number];
          sum += second(first(samples[i + side] ?? 0)) ** 2;
        }
        if (++counted < pieceSamples) continue;
        pieces.push(sum / pieceSamples);
        if (pieces.length > shortTermPieces) pieces.shift();
        [sum, counted] = [0, 0];
      }
    },
    shortTermLufs() {
      if (!pieces.length) return null;
      const mean = pieces.reduce((total, piece) => total + piece, 0) / pieces.length;
      const lufs = -0.691 + 10 * Math.log10(mean);
      return lufs > gateLufs ? lufs : null;
    },
  };
}

/** One second-order filter, in transposed direct form II. */
function section({ b, a }: Biquad): (value: number) => number {
  const [b0 = 0, b1 = 0, b2 = 0] = b;
  const [a1 = 0, a2 = 0] = a;
  let [z1, z2] = [0, 0];
  return (value) => {
    const out = b0 * value + z1;
    z1 = b1 * value - a1 * out + z2;
    z2 = b2 * value - a2 * out;
    return out;
  };
}
