/** The practice game's own sound, and its stand-ins for a microphone and a voice chat. */
export type PracticeSound = 'game' | 'voice' | 'chat';

/**
 * Sound of the practice game as a pure function of the sample index at 48 kHz: the same samples on every run,
 * in any order. Left and right differ slightly in the game bed; voice and chat are the same on both sides.
 */
export const soundRateHz = 48_000;

/** A number in -1..1 for an index, without memory. */
function noise(index: number, seed: number): number {
  let z = Math.imul(index + seed * 7919, 0x9e3779b1);
  z ^= z >>> 15;
  z = Math.imul(z, 0x85ebca6b);
  z ^= z >>> 13;
  return (z >>> 0) / 0x8000_0000 - 1;
}

/** Smooth noise: values at every `step` samples, joined by straight lines. */
function slowNoise(index: number, step: number, seed: number): number {
  const at = Math.floor(index / step);
  const share = index / step - at;
  return noise(at, seed) * (1 - share) + noise(at + 1, seed) * share;
}

const chord = [110, 164.81, 220, 277.18];

function gameBed(index: number, side: number): number {
  const t = index / soundRateHz;
  const bar = Math.floor(t / 2) % 4;
  const root = [1, 0.8909, 0.7492, 0.8409][bar] ?? 1;
  let sum = 0;
  chord.forEach((hz, i) => (sum += Math.sin(2 * Math.PI * hz * root * t + i + side * 0.4) * 0.012));
  const engine = Math.sin(2 * Math.PI * (58 + 6 * Math.sin(t * 1.7)) * t) * 0.02;
  const wind = slowNoise(index, 12, 3 + side) * 0.014;
  return sum + engine + wind;
}

/** Syllables of a synthetic voice with pauses, over the steady noise of a fan. */
function voiceAt(index: number, seed: number, hz: number, level: number, floor: number): number {
  const t = index / soundRateHz;
  const phrase = 3.2;
  const into = (t + seed * 1.37) % phrase;
  const syllable = Math.floor(into / 0.23);
  const speaks = into < 2.1 && noise(Math.floor((t + seed * 1.37) / phrase) * 16 + syllable, seed) > -0.6;
  const shape = Math.sin(Math.PI * ((into % 0.23) / 0.23)) ** 2;
  const pitch = hz * (1 + 0.12 * noise(syllable, seed + 5));
  const formants =
    Math.sin(2 * Math.PI * pitch * t) * 0.6 +
    Math.sin(2 * Math.PI * pitch * 2 * t) * 0.3 +
    Math.sin(2 * Math.PI * pitch * 5.1 * t) * 0.16;
  const breath = slowNoise(index, 3, seed + 9) * floor;
  return (speaks ? formants * shape * level : 0) + breath;
}

/** The click of a second: 2 ms of 3 kHz that start at full level on the first sample, so that its onset is exact. */
function click(index: number): number {
  const into = index % soundRateHz;
  return into < 96 ? 0.5 * Math.cos((2 * Math.PI * 3000 * into) / soundRateHz) : 0;
}

/**
 * Adds samples of one source to a stereo buffer (interleaved, -1..1).
 * @param clicks whether the game's sound carries the click of each second
 */
export function addSound(into: Float32Array, source: PracticeSound, firstSample: number, clicks: boolean): void {
  const count = into.length / 2;
  for (let i = 0; i < count; i++) {
    const index = firstSample + i;
    if (index < 0) continue;
    if (source === 'game') {
      const pulse = clicks ? click(index) : 0;
      into[i * 2] = (into[i * 2] ?? 0) + gameBed(index, 0) + pulse;
      into[i * 2 + 1] = (into[i * 2 + 1] ?? 0) + gameBed(index, 1) + pulse;
    } else {
      const value = source === 'voice' ? voiceAt(index, 1, 128, 0.24, 0.0035) : voiceAt(index, 4, 196, 0.12, 0.0012);
      into[i * 2] = (into[i * 2] ?? 0) + value;
      into[i * 2 + 1] = (into[i * 2 + 1] ?? 0) + value;
    }
  }
}
