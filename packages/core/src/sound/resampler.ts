/**
 * Reads stereo samples at any place between them: a sinc under a Kaiser window, as tables of its phases between which is
 * interpolated (Smith, "Digital Audio Resampling", from memory: 16 zero crossings a side and beta 9 keep images below -90 dB).
 */
const crossings = 16;
const phases = 512;
const kaiserBeta = 9;
/** The part of the band below half the lower rate that is kept. */
const kept = 0.95;

export interface SincTable {
  /** Taps on each side of the place that is read. */
  taps: number;
  weights: Float32Array;
}

/** Modified Bessel function of the first kind, order 0, by its power series (Abramowitz and Stegun, 9.6.12). */
function bessel0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; term > 1e-12 * sum; k++) sum += term *= (x / (2 * k)) ** 2;
  return sum;
}

/** The table for reading samples of one rate as another. */
export function sincTable(fromHz: number, toHz: number): SincTable {
  const band = Math.min(1, toHz / fromHz) * (fromHz > toHz ? kept : 1);
  const taps = Math.ceil(crossings / band);
  const weights = new Float32Array((phases + 1) * taps * 2);
  for (let phase = 0; phase <= phases; phase++)
    for (let tap = 0; tap < taps * 2; tap++) {
      const away = tap - taps + 1 - phase / phases;
      const inside = 1 - (away / taps) ** 2;
      if (inside < 0) continue;
      const x = Math.PI * away * band;
      const sinc = x === 0 ? 1 : Math.sin(x) / x;
      weights[phase * taps * 2 + tap] = (band * sinc * bessel0(kaiserBeta * Math.sqrt(inside))) / bessel0(kaiserBeta);
    }
  return { taps, weights };
}

/** Interleaved stereo that goes round: sample `n` stands at `n & mask`; there are those from `first` to before `end`. */
export interface RoundSamples {
  samples: Float32Array;
  mask: number;
  first: number;
  end: number;
}

/** Fills `into` with stereo samples from `place` on, `step` source samples apart; where the source has none, it is silent. */
export function readBetween(
  table: SincTable,
  source: RoundSamples,
  place: number,
  step: number,
  into: Float32Array,
): void {
  const { taps, weights } = table;
  const width = taps * 2;
  const base = Math.floor(place) - taps + 1;
  const { left, right } = piece(source, base, Math.ceil((into.length / 2) * step) + width + 2);
  for (let i = 0; i < into.length / 2; i++) {
    const where = place + i * step;
    const whole = Math.floor(where);
    const phase = (where - whole) * phases;
    const row = Math.floor(phase);
    const share = phase - row;
    const from = whole - taps + 1 - base;
    const [own, next] = [row * width, (row + 1) * width];
    let [sumLeft, sumRight] = [0, 0];
    // The hot loop of every sound from outside: plain arithmetic over arrays, whose bounds hold by what was copied.
    for (let tap = 0; tap < width; tap++) {
      const low = weights[own + tap] as number;
      const weight = low + ((weights[next + tap] as number) - low) * share;
      sumLeft += weight * (left[from + tap] as number);
      sumRight += weight * (right[from + tap] as number);
    }
    into[i * 2] = sumLeft;
    into[i * 2 + 1] = sumRight;
  }
}

/** A piece of the source side by side, silent where it has nothing. */
function piece({ samples, mask, first, end }: RoundSamples, from: number, count: number) {
  const left = new Float32Array(count);
  const right = new Float32Array(count);
  for (let n = Math.max(from, first); n < Math.min(from + count, end); n++) {
    left[n - from] = samples[(n & mask) * 2] as number;
    right[n - from] = samples[(n & mask) * 2 + 1] as number;
  }
  return { left, right };
}
