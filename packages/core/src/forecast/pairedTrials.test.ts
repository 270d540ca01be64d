import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { practiceGameSchema, practiceScenes, recipeSchema, type PracticeSceneName, type Recipe } from '@mellow/model';
import { z } from 'zod';
import { forecastRate, sharesOf } from '../codec';
import { framesPerSecond } from '../units';
import { predictionFor, sceneOf } from './index';
import { longestTurnUs } from './sharing';
import { testContext } from './testContext.test-support';

/** The fits of real play against the paired trials they were made from (`npm run fit:trials`): recorded, played, counted. */
const trialSchema = z.object({
  case: z.object({ scene: z.enum(practiceScenes) }),
  cores: z.number(),
  game: practiceGameSchema,
  recipe: recipeSchema,
  found: z.object({
    due: z.number(),
    filed: z.number(),
    pictureBytes: z.number(),
    playCost: z.object({
      without: z.number(),
      with: z.number(),
      interval: z.object({ low: z.number(), high: z.number() }),
    }),
  }),
});
type Trial = z.infer<typeof trialSchema>;
const trials: Trial[] = readFileSync(join(__dirname, '../../../../bench/fit/trials.jsonl'), 'utf8')
  .split('\n')
  .filter(Boolean)
  .map((line) => trialSchema.parse(JSON.parse(line)));

const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
const hasSetRate = ({ encode }: Recipe): boolean => encode.rateControl.endsWith('bitrate');

/** log2 of found over foretold bits a pixel. */
function missOf({ recipe, game, found }: Trial): number {
  const seconds = found.due / framesPerSecond(recipe.rate);
  const scene = sceneOf(game, sharesOf(game.passages, seconds));
  const pixels = recipe.size.widthPx * recipe.size.heightPx;
  return Math.log2(
    (found.pictureBytes * 8) / (found.filed * pixels) / forecastRate(recipe, [], scene).bitsPerPixel.value,
  );
}

describe('sizes of real play', () => {
  const missesOf = (scene: PracticeSceneName): number[] =>
    trials.filter((trial) => trial.case.scene === scene && !hasSetRate(trial.recipe)).map(missOf);
  it('are met in the mean of each scene within a sixth', () => {
    for (const scene of practiceScenes) {
      expect(missesOf(scene).length).toBeGreaterThanOrEqual(6);
      expect(Math.abs(mean(missesOf(scene)))).toBeLessThan(0.22);
    }
  });
  it('lie no wider round it than the range says: 0.36 of log2, one standard deviation', () => {
    const all = practiceScenes.flatMap(missesOf);
    expect(Math.sqrt(mean(all.map((miss) => miss ** 2)))).toBeLessThan(0.36);
  });
});

describe('play cost of real play', () => {
  const context = testContext();
  const machineOf = (cores: number) => ({
    ...context.machine!,
    cores,
    graphics: null,
    coreSpeed: { value: 0.95, low: 0.8, high: 1.05, origin: 'assumed' as const, from: 'its faster phase' },
  });
  const foretoldOf = ({ recipe, game, cores }: Trial) =>
    predictionFor(
      recipe,
      { ...context, game, machine: machineOf(cores), start: recipe, drives: [] },
      5,
      game.passages,
      '2026-01-01T00:00:00Z',
    ).playCost!;
  // Of games under a cap; how often the ranges hold over all is what "npm run bench" counts.
  const looked = trials
    .filter(({ game }) => game.capFps !== null)
    .map((trial) => ({ trial, foretold: foretoldOf(trial), found: trial.found.playCost }));
  const isTold = ({ interval }: Trial['found']['playCost']): boolean => interval.low > 0 || interval.high < 0;

  it('of AV1 beside a game under a cap is told before: the game waits for its turn among the threads', () => {
    const capped = looked.filter(({ trial }) => trial.recipe.encode.encoder === 'av1-software');
    expect(capped.length).toBeGreaterThanOrEqual(4);
    for (const { foretold, found } of capped) {
      expect(isTold(found)).toBe(true);
      expect(foretold.value).toBeGreaterThan(0.02);
    }
    // How fast the machine was in those minutes nobody kept: with the typical work of the encoder half of them are reached.
    const reached = capped.filter(({ foretold, found }) => foretold.high > found.interval.low);
    expect(reached.length).toBeGreaterThanOrEqual(capped.length / 2);
  });
  it('of AVC and HEVC beside a game under a cap, where nothing could be told, is next to none', () => {
    const quiet = looked.filter(({ trial, found }) => trial.recipe.encode.encoder !== 'av1-software' && !isTold(found));
    expect(quiet.length).toBeGreaterThanOrEqual(7);
    for (const { foretold } of quiet) expect(foretold.value).toBeLessThan(0.02);
  });
});

describe('the longest turn', () => {
  it('is none where each core has two threads at most, and grows by a slice for each more', () => {
    expect([1, 2, 3, 4].map((threads) => longestTurnUs(threads, 2))).toEqual([0, 0, 0, 0]);
    const slice = longestTurnUs(6, 2);
    expect(slice).toBeGreaterThan(500);
    expect(longestTurnUs(24, 2)).toBeCloseTo(10 * slice, 9);
    expect(longestTurnUs(24, 16)).toBe(0);
  });
  it('never grows with cores, nor falls with threads', () => {
    for (let threads = 1; threads < 64; threads++)
      for (let cores = 1; cores < 32; cores++) {
        expect(longestTurnUs(threads, cores + 1)).toBeLessThanOrEqual(longestTurnUs(threads, cores));
        expect(longestTurnUs(threads + 1, cores)).toBeGreaterThanOrEqual(longestTurnUs(threads, cores));
      }
  });
});
