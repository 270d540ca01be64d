import { sampleRateHz } from '../codec/soundRates';

/** How long the lead-in is quiet, so that the noise of the room can be told. */
export const leadInQuietUs = 1_000_000;
/** When the marks begin, after due 0: three, two, one. */
export const leadInMarksUs = [1_000_000, 2_000_000, 3_000_000] as const;
/** How long a mark is heard and seen. */
export const leadInMarkUs = 100_000;
const toneHz = 1000;
/** -12 dBFS, as loud as a voice. */
const toneLevel = 10 ** (-12 / 20);

const marksAt = leadInMarksUs.map((us) => (us * sampleRateHz) / 1e6);
const markSamples = (leadInMarkUs * sampleRateHz) / 1e6;

/** The mark's tone at a sample after due 0: a cosine, so that it starts at its full height and its onset is exact. */
export function leadInMarkAt(sample: number): number {
  const start = marksAt.find((at) => sample >= at && sample < at + markSamples);
  return start === undefined ? 0 : toneLevel * Math.cos((2 * Math.PI * toneHz * (sample - start)) / sampleRateHz);
}

/** Which mark a picture shows, 3, 2 or 1: the one that begins or goes on while it is shown; null where there is none. */
export function leadInMarkIn(startUs: number, endUs: number): number | null {
  const at = leadInMarksUs.findIndex(
    (us) => startUs < us + leadInMarkUs && endUs > us && startUs >= us - (endUs - startUs) / 2,
  );
  return at < 0 ? null : leadInMarksUs.length - at;
}
