import { plainPracticeGame, practiceSceneWords } from '@mellow/core';
import type { Effort, EncoderName, PracticeGame, PracticeSceneName, Recipe } from '@mellow/model';

/** One recipe of the coverage run: what differs from the start recipe, and from the plain practice game. */
export interface CoverageCase {
  scene: PracticeSceneName;
  encoder: EncoderName;
  effort: Effort;
  gameSize: readonly [number, number];
  fileSize: readonly [number, number];
  fps: number;
  capFps: number | null;
  /** A quality number, or kilobits a second. */
  rate: { quality: number } | { kbps: number };
  bFrames: number;
  quotaMb: number | null;
}

const sizes = {
  whole: [1280, 720],
  half: [640, 360],
  middle: [960, 540],
  small: [854, 480],
} as const;

export const coverageCase = (
  scene: PracticeSceneName,
  encoder: EncoderName,
  effort: Effort,
  game: keyof typeof sizes,
  file: keyof typeof sizes,
  fps: number,
  capFps: number | null,
  rate: CoverageCase['rate'],
  bFrames = 0,
  quotaMb: number | null = null,
): CoverageCase => ({
  scene,
  encoder,
  effort,
  gameSize: sizes[game],
  fileSize: sizes[file],
  fps,
  capFps,
  rate,
  bFrames,
  quotaMb,
});

/**
 * The recipes by which the forecast's ranges are judged: three scenes, three encoders, efforts, sizes, rates, set bitrates and
 * quality numbers, drive quotas. None of them is measured for fitting (`bench/fit` has other looks, seeds, numbers and sizes).
 */
export const coverageCases: readonly CoverageCase[] = [
  coverageCase('paper-comets', 'avc-software', 'lightest', 'whole', 'whole', 60, 120, { quality: 23 }),
  coverageCase('paper-comets', 'avc-software', 'light', 'whole', 'middle', 60, 60, { quality: 18 }, 2),
  coverageCase('paper-comets', 'avc-software', 'middle', 'middle', 'middle', 30, 60, { quality: 27 }),
  coverageCase('paper-comets', 'avc-software', 'thorough', 'middle', 'half', 60, 120, { kbps: 3000 }),
  coverageCase('paper-comets', 'hevc-software', 'lightest', 'middle', 'middle', 30, 60, { quality: 24 }),
  coverageCase('paper-comets', 'hevc-software', 'light', 'whole', 'half', 60, null, { quality: 28 }, 0, 400),
  coverageCase('paper-comets', 'av1-software', 'lightest', 'middle', 'half', 30, 60, { quality: 36 }),
  coverageCase('paper-comets', 'av1-software', 'light', 'whole', 'small', 24, 48, { quality: 44 }),
  coverageCase('harrow-vale', 'avc-software', 'lightest', 'whole', 'whole', 30, 60, { quality: 21 }),
  coverageCase('harrow-vale', 'avc-software', 'light', 'whole', 'half', 120, 120, { quality: 25 }),
  coverageCase('harrow-vale', 'avc-software', 'middle', 'whole', 'whole', 24, 48, { kbps: 5000 }, 2),
  coverageCase('harrow-vale', 'avc-software', 'thorough', 'middle', 'middle', 30, 60, { quality: 29 }, 0, 200),
  coverageCase('harrow-vale', 'hevc-software', 'lightest', 'whole', 'small', 30, null, { quality: 22 }),
  coverageCase('harrow-vale', 'hevc-software', 'middle', 'middle', 'half', 30, 60, { quality: 29 }),
  coverageCase('harrow-vale', 'av1-software', 'lightest', 'whole', 'middle', 24, 48, { quality: 38 }),
  coverageCase('harrow-vale', 'av1-software', 'middle', 'middle', 'half', 24, 60, { quality: 42 }),
  coverageCase('tin-cathedral', 'avc-software', 'lightest', 'middle', 'middle', 60, 60, { quality: 24 }),
  coverageCase('tin-cathedral', 'avc-software', 'light', 'middle', 'half', 60, 120, { quality: 28 }, 2),
  coverageCase('tin-cathedral', 'avc-software', 'middle', 'whole', 'small', 30, 60, { kbps: 2500 }),
  coverageCase('tin-cathedral', 'avc-software', 'thorough', 'whole', 'whole', 60, 60, { quality: 26 }),
  coverageCase('tin-cathedral', 'hevc-software', 'lightest', 'middle', 'half', 60, null, { quality: 26 }),
  coverageCase('tin-cathedral', 'hevc-software', 'light', 'middle', 'middle', 30, 60, { quality: 30 }, 0, 300),
  coverageCase('tin-cathedral', 'av1-software', 'lightest', 'middle', 'half', 30, 60, { quality: 40 }),
  coverageCase('tin-cathedral', 'av1-software', 'light', 'whole', 'whole', 60, 60, { quality: 46 }),
];

/** @param seed of the game's draws: each case has its own */
export function coverageGame(
  { scene, gameSize: [widthPx, heightPx], capFps }: CoverageCase,
  seed: number,
): PracticeGame {
  const { look, title } = practiceSceneWords[scene];
  return {
    ...plainPracticeGame,
    ...look,
    ...{ scene, title, widthPx, heightPx, capFps },
    seed,
    facts: { ...plainPracticeGame.facts, motion: scene === 'harrow-vale' ? 'calm' : 'fast' },
  };
}

export const coverageRecipe = (
  base: Recipe,
  { effort, fileSize: [widthPx, heightPx], fps, rate, bFrames }: CoverageCase,
): Recipe => ({
  ...base,
  rate: { num: fps, den: 1 },
  size: { ...base.size, widthPx, heightPx, fit: 'stretch' },
  encode: {
    ...base.encode,
    effort,
    bFrames,
    keyDistanceFrames: 2 * fps,
    ...('quality' in rate
      ? { rateControl: 'constant-quality', quality: rate.quality }
      : { rateControl: 'variable-bitrate', bitrateKbps: rate.kbps, ceilingKbps: 2 * rate.kbps }),
  },
});
