import type { PracticeGame, PracticeSceneName, Recipe } from '@mellow/model';
import { encodeMix, encoderFacts, type PassageShares } from '../codec';
import { encodeQueueFrames, type PathParameters, type Scene, type SceneKind } from '../path';
import { dueFramesIn, framesPerSecond } from '../units';
import { contentionOf, sharedWithGame } from '../storage';
import { blockContentShare, coresOf, sceneFactors, sceneShares, type ForecastContext } from './context';
import type { Forecast } from './forecast';
import { heldFrames } from './safety';
import { recorderUse, occupation, longestTurnUs, runnableThreads, slowdown } from './sharing';
import { middleGuess, type Guess } from './uncertain';

export interface Passage {
  kind: SceneKind;
  seconds: number;
}

/** The next ten seconds that are shown: calm, busy, loading. */
export const shownPassages: readonly Passage[] = [
  { kind: 'calm', seconds: 4 },
  { kind: 'busy', seconds: 4 },
  { kind: 'loading', seconds: 2 },
];

/** Bytes that may wait for the drive before frames are refused. */
export const waitingLimitBytes = 64e6;

/** A drive's speed where nobody measured it: so that it never decides. */
const unmeasuredBytesPerSecond = 400e6;
/** A loading passage stands still for 0.35 s of every 0.7 s, as the practice game does. */
const stallEveryUs = 700_000;
const stallUs = 350_000;

/**
 * Passages with the work they bring, against its mean over `shares`.
 * @param ownBlock a block takes about the same time whatever it sees
 */
export function scenesOf(
  passages: readonly Passage[],
  kind: PracticeSceneName,
  shares: PassageShares,
  ownBlock = false,
): {
  scenes: Scene[];
  stalls: [number, number][];
  seconds: number;
} {
  const scenes: Scene[] = [];
  const stalls: [number, number][] = [];
  const encode = encodeMix(kind, shares, ownBlock ? blockContentShare : 1);
  let at = 0;
  for (const { kind: passage, seconds } of passages) {
    const to = at + seconds * 1e6;
    scenes.push({
      kind: passage,
      fromUs: at,
      toUs: to,
      gameFactor: sceneFactors[passage],
      encodeFactor: encode[passage],
    });
    if (passage === 'loading')
      for (let from = at + stallEveryUs - stallUs; from < to; from += stallEveryUs)
        stalls.push([from, Math.min(to, from + stallUs)]);
    at = to;
  }
  return { scenes, stalls, seconds: at / 1e6 };
}

/** What the simulation needs, from a recipe's forecast. The seed is the setup's, so that recipes meet the same draws. */
export function pathParametersOf(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  seed: number,
  passages: readonly Passage[] = shownPassages,
  guess: Guess = middleGuess,
): PathParameters {
  const { work, drive, speed } = forecast;
  const { game, calibration } = context;
  const { cores: encodeCores, occupies } = occupation(recipe, work.parallelism ?? 1);
  const fps = framesPerSecond(recipe.rate);
  const cores = coresOf(context);
  const shared = drive ? sharedWithGame(drive, game.facts.driveId, context.drives) : null;
  const block = encoderFacts[recipe.encode.encoder].place !== 'software';
  const shares = context.shares ?? sceneShares(game);
  const { scenes, stalls, seconds } = scenesOf(passages, game.scene, shares, block);
  const slower = slowdown(recorderUse(recipe, context, work), guess.sharing);
  const neededBytes = (forecast.bits.value / 8) * guess.bits;
  const driveBytes = speed?.availableBytesPerSecond ? speed.availableBytesPerSecond * guess.driveSpeed : null;
  const threads = runnableThreads(recipe, work.parallelism ?? 1);
  return {
    seed,
    rate: recipe.rate,
    dueFrames: dueFramesIn(recipe.rate, seconds),
    scenes,
    stalls,
    cores,
    othersCores: Math.min(calibration.loads[0]?.othersCores ?? 0.15, cores * 0.5),
    game: {
      processor: {
        meanUs: work.game.processorUs.value * guess.game,
        cv: work.game.cv,
        phi: work.game.phi,
      },
      helpers: {
        meanUs: work.game.helpers.meanUs * guess.game,
        parallelism: work.game.helpers.parallelism,
      },
      graphicsUs: work.game.graphicsUs * guess.game,
      slowedBy: slower,
      capUs: game.capFps === null ? 0 : 1e6 / game.capFps,
      jitterUs: 300,
      framesAhead: work.game.framesAhead,
      weight: 1,
    },
    capture: { grabUs: work.grabUs.value, wakeMedianUs: 140, wakeSigma: 1.1 },
    size: work.size ? { meanUs: work.size.value * guess.size, cv: 0.08, phi: 0 } : null,
    encode: {
      work: { meanUs: work.encode.value * guess.encode * occupies, cv: work.cv, phi: work.phi },
      parallelism: block ? null : encodeCores,
      weight: threads,
      turnUs: block ? 0 : longestTurnUs(threads, cores),
      heldFrames: heldFrames(recipe, cores),
      repeatShare: 0.5,
      queueFrames: encodeQueueFrames,
    },
    packUs: work.packUs.value,
    drive: {
      bytesPerSecond: (drive?.writeBytesPerSecond ?? unmeasuredBytesPerSecond) * guess.driveSpeed,
      contention: drive ? contentionOf(drive.kind, shared) : 1,
      stallsPerSecond: drive?.kind === 'hard disk' ? 0.05 : 0.01,
      stallMedianUs: drive?.kind === 'hard disk' ? 250_000 : 40_000,
      stallSigma: 0.6,
      waitingLimitBytes,
      // A drive that is too slow for the mean is full sooner or later: that is the state to look at.
      waitingFromStartBytes: driveBytes !== null && neededBytes > driveBytes ? waitingLimitBytes : 0,
    },
    bytes: {
      mean: Math.max(1, (forecast.pictureBits * guess.bits) / 8 / fps),
      cv: 0.3,
      keyDistance: encoderFacts[recipe.encode.encoder].keyDistance ? recipe.encode.keyDistanceFrames : 1,
      keyFactor: 5,
    },
    soundBytesPerSecond: forecast.soundBits / 8,
  };
}

/** A setup's own seed for its draws. */
export const seedOf = (game: PracticeGame, setupId: string): number =>
  [...setupId].reduce((hash, sign) => (Math.imul(hash, 31) + sign.charCodeAt(0)) >>> 0, game.seed) % 1_000_003;
