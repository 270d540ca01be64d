import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { encoderFacts, plainPracticeGame, startRecipe, withEncoder } from '@mellow/core';
import type { Effort, EncoderName, PracticeGame, PracticeSceneName, Recipe } from '@mellow/model';
import { drivenEncode, sourceFrames, type DrivenEncode } from './drivenEncode';

/** One row of what the rate model, the picture model and the table of work are fitted on. */
export interface FitRow extends DrivenEncode {
  scene: PracticeSceneName;
  passage: 'calm' | 'busy';
  encoder: EncoderName;
  effort: Effort;
  rateControl: Recipe['encode']['rateControl'];
  quality: number;
  widthPx: number;
  heightPx: number;
  fps: number;
  bFrames: number;
}

const framesEach = 72;
const looks: Record<PracticeSceneName, Pick<PracticeGame, 'motion' | 'detail' | 'seed'>> = {
  'paper-comets': { motion: 0.6, detail: 0.4, seed: 20 },
  'harrow-vale': { motion: 0.25, detail: 0.4, seed: 71 },
  'tin-cathedral': { motion: 0.5, detail: 0.8, seed: 90 },
};
const sizes = { small: [640, 360], middle: [1280, 720], large: [1920, 1080] } as const;
type SizeName = keyof typeof sizes;

interface Wanted {
  encoder: EncoderName;
  effort: Effort;
  quality: number;
  size: SizeName;
  fps: number;
  rateControl?: Recipe['encode']['rateControl'];
}

/** What is measured: a grid of quality and effort at one size, then sizes, rates and lossless beside it. */
function* wanted(): Generator<Wanted> {
  const ladders: [EncoderName, readonly Effort[], readonly number[]][] = [
    ['avc-software', ['lightest', 'light', 'middle', 'thorough'], [14, 20, 26, 32]],
    ['hevc-software', ['lightest', 'light', 'middle'], [14, 20, 26, 32]],
    ['av1-software', ['lightest', 'light', 'middle'], [20, 30, 40, 50]],
  ];
  for (const [encoder, efforts, qualities] of ladders) {
    for (const effort of efforts)
      // The heavy rungs are looked at where people use them.
      for (const quality of effort === 'lightest' || effort === 'light' ? qualities : qualities.slice(1, 3))
        yield { encoder, effort, quality, size: 'middle', fps: 60 };
    const quality = encoder === 'av1-software' ? 32 : 20;
    for (const size of ['small', 'large'] as const) yield { encoder, effort: 'light', quality, size, fps: 60 };
    for (const fps of [30, 120] as const) yield { encoder, effort: 'light', quality, size: 'middle', fps };
  }
  for (const encoder of ['avc-software', 'hevc-software', 'ffv1-software', 'utvideo-software'] as const)
    for (const size of ['middle', 'large'] as const)
      yield { encoder, effort: 'lightest', quality: 0, size, fps: 60, rateControl: 'lossless' };
  for (const quality of [2, 4, 8, 16])
    yield {
      encoder: 'mjpeg-software',
      effort: 'lightest',
      quality,
      size: 'middle',
      fps: 60,
      rateControl: 'picture-by-picture',
    };
}

function recipeOf(want: Wanted, game: PracticeGame): Recipe {
  const [widthPx, heightPx] = sizes[want.size];
  const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd');
  const base = withEncoder({ ...start, lanes: [] }, want.encoder);
  return {
    ...base,
    rate: { num: want.fps, den: 1 },
    size: { ...base.size, widthPx, heightPx },
    encode: {
      ...base.encode,
      effort: want.effort,
      quality: want.quality,
      quantiser: Math.max(1, want.quality),
      bFrames: 0,
      keyDistanceFrames: want.fps * 2,
      rateControl:
        want.rateControl ?? (encoderFacts[want.encoder].quality ? 'constant-quality' : base.encode.rateControl),
    },
  };
}

/** Runs all of it and adds a line of JSON to a file for each; minutes to an hour. */
const out = process.argv[2];
if (!out) throw new Error('Say where to write: npm run fit -- <file>');
const calmAndBusy = ['calm', 'busy'] as const;
/** Rows that an interrupted run has written already. */
let written = existsSync(out) ? readFileSync(out, 'utf8').split('\n').filter(Boolean).length : 0;
for (const want of wanted()) {
  for (const scene of ['paper-comets', 'harrow-vale', 'tin-cathedral'] as const) {
    for (const passage of calmAndBusy) {
      if (written-- > 0) continue;
      const [widthPx, heightPx] = sizes[want.size];
      const game: PracticeGame = {
        ...plainPracticeGame,
        ...looks[scene],
        scene,
        widthPx,
        heightPx,
        capFps: want.fps,
        passages: [{ kind: passage, seconds: 60 }],
      };
      const recipe = recipeOf(want, game);
      const frames = sourceFrames(game, recipe, framesEach);
      const row: FitRow = {
        scene,
        passage,
        encoder: want.encoder,
        effort: want.effort,
        rateControl: recipe.encode.rateControl,
        quality: want.quality,
        widthPx,
        heightPx,
        fps: want.fps,
        bFrames: recipe.encode.bFrames,
        ...drivenEncode(recipe, frames),
      };
      for (const frame of frames) frame.free();
      appendFileSync(out, `${JSON.stringify(row)}\n`);
    }
  }
}
