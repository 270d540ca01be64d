import { sampleRateHz } from '../codec/soundRates';

/**
 * Loudness of stereo at 48 kHz as ITU-R BS.1770-4 defines it: two filters, mean square of both sides together,
 * -0.691 + 10 lg. Coefficients are those of its tables 1 and 2, for 48 kHz.
 */
const shelf = {
  b: [1.53512485958697, -2.69169618940638, 1.19839281085285],
  a: [-1.69065929318241, 0.73248077421585],
} as const;
/** Its other side is 1, -2, 1. */
const highPass = { a: [-1.99004745483398, 0.99007225036621] } as const;

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
  // For each side what both filters remember: transposed direct form II, two values each.
  const memory = new Float64Array(8);
  const pieces: number[] = [];
  let sum = 0;
  let counted = 0;
  const [shelfA1, shelfA2] = shelf.a;
  const [shelfB0, shelfB1, shelfB2] = shelf.b;
  const [highA1, highA2] = highPass.a;

  /** The square of a side's next value, after both filters. */
  function weighted(value: number, at: number): number {
    const shelved = shelfB0 * value + (memory[at] as number);
    memory[at] = shelfB1 * value - shelfA1 * shelved + (memory[at + 1] as number);
    memory[at + 1] = shelfB2 * value - shelfA2 * shelved;
    const passed = shelved + (memory[at + 2] as number);
    memory[at + 2] = -2 * shelved - highA1 * passed + (memory[at + 3] as number);
    memory[at + 3] = shelved - highA2 * passed;
    return passed * passed;
  }

  return {
    add(samples) {
      for (let i = 0; i < samples.length; i += 2) {
        sum += weighted(samples[i] ?? 0, 0) + weighted(samples[i + 1] ?? 0, 4);
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
