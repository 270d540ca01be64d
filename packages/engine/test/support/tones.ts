import { execFileSync } from 'node:child_process';

/** A second of a sine, the same on all channels; whole periods, so that it can be repeated. */
export function toneOf(hz: number, rateHz: number, channels: number, peakDbfs: number): Float32Array {
  const level = 10 ** (peakDbfs / 20);
  return Float32Array.from(
    { length: rateHz * channels },
    (_, i) => level * Math.sin((2 * Math.PI * hz * Math.floor(i / channels)) / rateHz),
  );
}

/** A track of a file as interleaved stereo at 48 kHz, by FFmpeg. */
export function stereoOf(path: string, track: number): Float32Array {
  const raw = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-map', `0:a:${track}`, '-ac', '2', '-ar', '48000', '-f', 'f32le', '-'],
    { maxBuffer: 1 << 29 },
  );
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

/** Blackman-Harris window of four terms, whose side lobes are 92 dB down (Harris 1978); what is off by 40 Hz and more is out. */
const pieceSamples = 4800;
const window = Float64Array.from({ length: pieceSamples }, (_, i) => {
  const angle = (2 * Math.PI * i) / pieceSamples;
  return 0.35875 - 0.48829 * Math.cos(angle) + 0.14128 * Math.cos(2 * angle) - 0.01168 * Math.cos(3 * angle);
});
const windowSum = window.reduce((sum, value) => sum + value, 0);

/** Power of one tone in each piece of 100 ms of a stretch of stereo. */
function powers(stereo: Float32Array, hz: number, fromS: number, toS: number, side: 0 | 1): number[] {
  const end = Math.min(Math.round(toS * 48_000), Math.floor(stereo.length / 2));
  const found: number[] = [];
  for (let from = Math.round(fromS * 48_000); from + pieceSamples <= end; from += pieceSamples) {
    let [real, imaginary] = [0, 0];
    for (let i = 0; i < pieceSamples; i++) {
      const value = (stereo[(from + i) * 2 + side] ?? 0) * (window[i] ?? 0);
      const angle = (2 * Math.PI * hz * i) / 48_000;
      real += value * Math.cos(angle);
      imaginary -= value * Math.sin(angle);
    }
    found.push(((Math.hypot(real, imaginary) * 2) / windowSum) ** 2);
  }
  return found;
}

/**
 * Peak level of one tone in a stretch of stereo, dBFS: that of its middle piece, so that a player which stutters once does not count,
 * and a clock that is followed may change the pitch by a thousandth.
 */
export function levelOfTone(stereo: Float32Array, hz: number, fromS: number, toS: number, side: 0 | 1 = 0): number {
  const sorted = powers(stereo, hz, fromS, toS, side).toSorted((a, b) => a - b);
  return 10 * Math.log10(sorted[sorted.length >> 1] ?? 0);
}

/** The same as the mean of all pieces: what was there for a moment only counts too. */
export function meanLevelOfTone(stereo: Float32Array, hz: number, fromS: number, toS: number): number {
  const all = powers(stereo, hz, fromS, toS, 0);
  return 10 * Math.log10(all.reduce((sum, power) => sum + power, 0) / all.length);
}
