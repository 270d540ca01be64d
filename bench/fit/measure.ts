import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import { encoderFacts, plainPracticeGame, startRecipe, withEncoder, type SceneKind } from '@mellow/core';
import type { Effort, EncoderName, PracticeGame, PracticeSceneName, Recipe } from '@mellow/model';
import { drivenEncode, sourceFrames, type DrivenEncode } from './drivenEncode';

/** One row of what the rate model, the picture model and the table of work are fitted on. */
export interface FitRow extends DrivenEncode {
  scene: PracticeSceneName;
  encoder: EncoderName;
  effort: Effort;
  rateControl: Recipe['encode']['rateControl'];
  quality: number;
  widthPx: number;
  heightPx: number;
  fps: number;
  bFrames: number;
}

/** Seconds of each passage, one after the other; encoders that take long see less. */
const passagesFor = (encoder: EncoderName): PracticeGame['passages'] => {
  const s = encoder === 'hevc-software' || encoder === 'av1-software' || encoder === 'vp9-software' ? 1 : 1.5;
  return [
    { kind: 'calm', seconds: s },
    { kind: 'busy', seconds: s },
    { kind: 'loading', seconds: s / 2 },
  ];
};
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
  bFrames?: number;
}

/** What is measured: a grid of quality and effort at one size, then sizes, rates and lossless beside it. */
function* wanted(): Generator<Wanted> {
  const ladders: [EncoderName, readonly Effort[], readonly number[]][] = [
    ['avc-software', ['lightest', 'light', 'middle', 'thorough'], [14, 20, 26, 32]],
    ['hevc-software', ['lightest', 'light', 'middle'], [14, 20, 26, 32]],
    ['av1-software', ['lightest', 'light'], [20, 30, 40, 50]],
  ];
  for (const [encoder, efforts, qualities] of ladders) {
    for (const effort of efforts)
      // The heavy rungs are looked at where people use them.
      for (const quality of effort === 'light' || (effort === 'lightest' && encoder !== 'av1-software')
        ? qualities
        : qualities.slice(1, 3))
        yield { encoder, effort, quality, size: 'middle', fps: 60 };
    const quality = encoder === 'av1-software' ? 32 : 20;
    for (const size of encoder === 'av1-software' ? (['small'] as const) : (['small', 'large'] as const))
      yield { encoder, effort: 'light', quality, size, fps: 60 };
    for (const fps of encoder === 'avc-software' ? ([30, 120] as const) : ([30] as const))
      yield { encoder, effort: 'light', quality, size: 'middle', fps };
    for (const q of qualities.slice(1, 3))
      yield { encoder, effort: 'light', quality: q, size: 'middle', fps: 60, rateControl: 'constant-quantiser' };
    if (encoderFacts[encoder].mostBFrames)
      yield { encoder, effort: 'light', quality, size: 'middle', fps: 60, bFrames: 2 };
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
  // Added later, behind all that was measured before: a run goes on where the file ends.
  for (const quality of [20, 30, 40, 50])
    yield { encoder: 'vp9-software', effort: 'light', quality, size: 'middle', fps: 60 };
  for (const effort of ['lightest', 'middle', 'thorough'] as const)
    yield { encoder: 'vp9-software', effort, quality: 30, size: 'middle', fps: 60 };
  for (const effort of ['lightest', 'middle', 'thorough'] as const)
    yield { encoder: 'vp9-software', effort, quality: 40, size: 'middle', fps: 60 };
  yield { encoder: 'vp9-software', effort: 'light', quality: 32, size: 'small', fps: 60 };
  yield { encoder: 'vp9-software', effort: 'light', quality: 32, size: 'middle', fps: 30 };
  for (const quality of [30, 40])
    yield {
      ...{ encoder: 'vp9-software', effort: 'light', quality, size: 'middle', fps: 60 },
      rateControl: 'constant-quantiser',
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
      bFrames: want.bFrames ?? 0,
      keyDistanceFrames: want.fps * 2,
      rateControl:
        want.rateControl ?? (encoderFacts[want.encoder].quality ? 'constant-quality' : base.encode.rateControl),
    },
  };
}

/** Runs all of it and adds a line of JSON to a file for each; minutes to an hour. */
const out = process.argv[2];
if (!out) throw new Error('Say where to write: npm run fit -- <file>');
/** Rows that an interrupted run has written already. */
let written = existsSync(out) ? readFileSync(out, 'utf8').split('\n').filter(Boolean).length : 0;
let draw = 0;
for (const want of wanted()) {
  for (const scene of ['paper-comets', 'harrow-vale', 'tin-cathedral'] as const) {
    // Another draw of the scene for each row, so that what is fitted is not one passage's own.
    const seed = looks[scene].seed + 101 * (draw++ % 5);
    if (written-- > 0) continue;
    const [widthPx, heightPx] = sizes[want.size];
    const passages = passagesFor(want.encoder);
    const game: PracticeGame = {
      ...plainPracticeGame,
      ...looks[scene],
      ...{ scene, widthPx, heightPx, seed, capFps: want.fps, passages },
    };
    const recipe = recipeOf(want, game);
    const seconds = passages.reduce((sum, passage) => sum + passage.seconds, 0);
    const frames = sourceFrames(game, recipe, Math.round(seconds * want.fps));
    const row: FitRow = {
      scene,
      encoder: want.encoder,
      effort: want.effort,
      rateControl: recipe.encode.rateControl,
      quality: want.quality,
      widthPx,
      heightPx,
      fps: want.fps,
      bFrames: recipe.encode.bFrames,
      ...drivenEncode(recipe, frames, (n) => kindAt(passages, n / want.fps)),
    };
    for (const frame of frames) frame.free();
    appendFileSync(out, `${JSON.stringify(row)}\n`);
  }
}

function kindAt(passages: PracticeGame['passages'], second: number): SceneKind {
  let at = 0;
  for (const { kind, seconds } of passages) if (second < (at += seconds)) return kind;
  return 'loading';
}
