import { coverageCase as of, type CoverageCase } from '../coverage/recipes';

/** Recipes whose paired trials the sharing of processor and memory is fitted on; other ones than those the ranges are judged by. */
export const trialCases: readonly CoverageCase[] = [
  of('paper-comets', 'avc-software', 'lightest', 'middle', 'middle', 60, null, { quality: 20 }),
  of('paper-comets', 'avc-software', 'light', 'whole', 'whole', 60, 120, { quality: 26 }),
  of('paper-comets', 'avc-software', 'middle', 'whole', 'whole', 60, null, { quality: 22 }),
  of('paper-comets', 'avc-software', 'most-thorough', 'middle', 'middle', 30, 60, { quality: 25 }),
  of('paper-comets', 'hevc-software', 'lightest', 'middle', 'half', 60, 60, { quality: 22 }),
  of('paper-comets', 'hevc-software', 'light', 'whole', 'middle', 30, null, { quality: 30 }),
  of('paper-comets', 'av1-software', 'lightest', 'whole', 'small', 24, 60, { quality: 40 }),
  of('paper-comets', 'av1-software', 'light', 'middle', 'half', 30, null, { quality: 34 }),
  of('harrow-vale', 'avc-software', 'lightest', 'whole', 'middle', 60, 120, { quality: 24 }),
  of('harrow-vale', 'avc-software', 'light', 'whole', 'whole', 30, null, { quality: 22 }),
  of('harrow-vale', 'avc-software', 'thorough', 'whole', 'small', 60, 60, { kbps: 3500 }),
  of('harrow-vale', 'hevc-software', 'lightest', 'whole', 'half', 60, null, { quality: 27 }),
  of('harrow-vale', 'hevc-software', 'light', 'middle', 'middle', 24, 60, { quality: 25 }),
  of('harrow-vale', 'av1-software', 'lightest', 'middle', 'half', 30, 60, { quality: 34 }),
  of('harrow-vale', 'av1-software', 'light', 'whole', 'small', 24, null, { quality: 40 }),
  of('tin-cathedral', 'avc-software', 'lightest', 'whole', 'whole', 60, null, { quality: 27 }),
  of('tin-cathedral', 'avc-software', 'light', 'middle', 'middle', 30, 60, { quality: 23 }),
  of('tin-cathedral', 'avc-software', 'middle', 'middle', 'half', 60, null, { quality: 25 }),
  of('tin-cathedral', 'avc-software', 'most-thorough', 'whole', 'middle', 60, 60, { quality: 28 }),
  of('tin-cathedral', 'hevc-software', 'lightest', 'middle', 'middle', 30, null, { quality: 28 }),
  of('tin-cathedral', 'hevc-software', 'middle', 'middle', 'half', 30, 60, { kbps: 1500 }),
  of('tin-cathedral', 'av1-software', 'lightest', 'middle', 'half', 24, null, { quality: 36 }),
  of('tin-cathedral', 'av1-software', 'light', 'middle', 'half', 30, 60, { quality: 44 }),
  of('tin-cathedral', 'av1-software', 'lightest', 'whole', 'middle', 60, 60, { quality: 42 }),
];
