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

const chordHz = [110, 164.81, 220, 277.18];
const chordLevel = 0.012;
/** The chord is as far apart on both sides. */
const sidePhase = { sine: Math.sin(0.4), cosine: Math.cos(0.4) };
const barSamples = 2 * soundRateHz;
const roots = [1, 0.8909, 0.7492, 0.8409];
/** Sines are turned on from one sample to the next so long, and then taken anew; a bar is a whole number of these. */
const turnSamples = 64;

/**
 * Adds the bed of one stretch of `turnSamples`, or of the part of it that is wanted: chord, engine and wind. Each value is
 * that of its index, whatever was asked for before.
 * @param begin first sample of the stretch, a multiple of `turnSamples`
 */
function addGameBed(into: Float32Array, firstSample: number, begin: number): void {
  const root = roots[Math.floor(begin / barSamples) % roots.length] ?? 1;
  const first = Math.max(begin, firstSample);
  const end = Math.min(begin + turnSamples, firstSample + into.length / 2);
  const sums = new Float64Array(2 * turnSamples);
  chordHz.forEach((hz, i) => {
    const stepAngle = (2 * Math.PI * hz * root) / soundRateHz;
    const [turnSine, turnCosine] = [Math.sin(stepAngle), Math.cos(stepAngle)];
    let sine = Math.sin(begin * stepAngle + i);
    let cosine = Math.cos(begin * stepAngle + i);
    for (let n = 0; n < end - begin; n++) {
      sums[n * 2] = (sums[n * 2] ?? 0) + sine;
      sums[n * 2 + 1] = (sums[n * 2 + 1] ?? 0) + cosine;
      const next = sine * turnCosine + cosine * turnSine;
      cosine = cosine * turnCosine - sine * turnSine;
      sine = next;
    }
  });
  for (let index = first; index < end; index++) {
    const t = index / soundRateHz;
    const sine = sums[(index - begin) * 2] ?? 0;
    const cosine = sums[(index - begin) * 2 + 1] ?? 0;
    const engine = Math.sin(2 * Math.PI * (58 + 6 * Math.sin(t * 1.7)) * t) * 0.02;
    const at = (index - firstSample) * 2;
    into[at] = (into[at] ?? 0) + sine * chordLevel + engine + slowNoise(index, 12, 3) * 0.014;
    const right = sine * sidePhase.cosine + cosine * sidePhase.sine;
    into[at + 1] = (into[at + 1] ?? 0) + right * chordLevel + engine + slowNoise(index, 12, 4) * 0.014;
  }
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
  const breath = slowNoise(index, 3, seed + 9) * floor;
  if (!speaks) return breath;
  const formants =
    Math.sin(2 * Math.PI * pitch * t) * 0.6 +
    Math.sin(2 * Math.PI * pitch * 2 * t) * 0.3 +
    Math.sin(2 * Math.PI * pitch * 5.1 * t) * 0.16;
  return formants * shape * level + breath;
}

/** The click of a second: 2 ms of 3 kHz that start at full level on the first sample, so that its onset is exact. */
function click(index: number): number {
  const into = index % soundRateHz;
  return into < 96 ? 0.5 * Math.cos((2 * Math.PI * 3000 * into) / soundRateHz) : 0;
}

const onBothSides: Record<PracticeSound, (index: number) => number> = {
  game: click,
  voice: (index) => voiceAt(index, 1, 128, 0.24, 0.0035),
  chat: (index) => voiceAt(index, 4, 196, 0.12, 0.0012),
};

/**
 * Adds samples of one source to a stereo buffer (interleaved, -1..1).
 * @param clicks whether the game's sound carries the click of each second
 */
export function addSound(into: Float32Array, source: PracticeSound, firstSample: number, clicks: boolean): void {
  const count = into.length / 2;
  const heard = Math.max(0, firstSample);
  if (source === 'game')
    for (let begin = heard - (heard % turnSamples); begin < firstSample + count; begin += turnSamples)
      addGameBed(into, firstSample, begin);
  if (source === 'game' && !clicks) return;
  const alike = onBothSides[source];
  for (let index = heard; index < firstSample + count; index++) {
    const value = alike(index);
    const at = (index - firstSample) * 2;
    into[at] = (into[at] ?? 0) + value;
    into[at + 1] = (into[at + 1] ?? 0) + value;
  }
}
