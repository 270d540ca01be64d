import type { EncoderName, Figure, Recipe } from '@mellow/model';
import { framesPerSecond } from '../units';
import { encoderFacts } from './encoders';
import { overKinds, type RateForecast, type SceneKnowledge } from './rateModel';
import { curveOf, effortOffsets, measuredCurves, onCurve } from './rateTables';

export const qualityWordNames = ['exact', 'cannot be told apart', 'clear', 'soft', 'blocky'] as const;
export type QualityWord = (typeof qualityWordNames)[number];

/** Structural similarity from which on each word holds; one table for every encoder and rate control (ours). */
const leastSsim: readonly (readonly [QualityWord, number])[] = [
  ['cannot be told apart', 0.985],
  ['clear', 0.955],
  ['soft', 0.92],
];

/** Standard deviation of log2(1 - SSIM): of a measured scene, and of any content. */
const spreads = { kind: 0.55, any: 1.1 };
const z90 = 1.2816;

export interface PictureForecast {
  word: QualityWord;
  /** SSIM of luma against what the encoder is given; null for lossless. */
  ssim: Figure | null;
  /** The quality number on the encoder's own scale that the recipe amounts to; null for lossless and codecs without one. */
  quality: number | null;
}

/** Word for a structural similarity. */
export const qualityWord = (ssim: number): QualityWord => leastSsim.find(([, least]) => ssim >= least)?.[0] ?? 'blocky';

const ssimOfLoss = (loss: number): number => Math.max(0.3, 1 - 2 ** Math.min(-0.6, loss));

/** log2(1 - SSIM) that the measured curves give at a quality number. */
function curveLoss({ encode }: Pick<Recipe, 'encode'>, quality: number, scene: SceneKnowledge): number {
  const on = curveOf[encode.encoder] ?? { as: 'avc-software', loss: 0 };
  const effort = encode.encoder === on.as ? effortOffsets[on.as][encode.effort].loss : 0;
  return overKinds(scene, (kind) => onCurve(measuredCurves[on.as][kind], quality, 'loss')) + on.loss + effort;
}

/** SSIM at a quality number on the encoder's own scale, for the ruler. */
export const typicalSsim = (recipe: Pick<Recipe, 'encode'>, quality: number, scene: SceneKnowledge): number =>
  ssimOfLoss(curveLoss(recipe, quality, scene));

/**
 * What the picture will look like. A set bitrate is turned into the quality number that needs as many bits.
 * @param bitsPerPixel of the set rate, null for constant quality @param rate forecast of the same recipe with a quality number
 */
export function forecastPicture(
  recipe: Recipe,
  bitsPerPixel: number | null,
  rate: RateForecast,
  scene: SceneKnowledge,
): PictureForecast {
  const { encode } = recipe;
  if (encode.rateControl === 'lossless') return { word: 'exact', ssim: null, quality: null };
  if (encode.rateControl === 'picture-by-picture') {
    const loss = quantiserLoss(encode.quantiser);
    return { word: qualityWord(ssimOfLoss(loss)), ssim: figureOf(loss, spreads.any), quality: null };
  }
  const set = bitsPerPixel !== null && rate.qualityFor !== null;
  const quality = set ? rate.qualityFor!(bitsPerPixel) : encode.quality;
  const loss = curveLoss(recipe, quality, scene);
  return {
    word: qualityWord(ssimOfLoss(loss)),
    quality,
    ssim: figureOf(loss, scene.kind ? spreads.kind : spreads.any),
  };
}

const figureOf = (loss: number, sd: number): Figure => ({
  value: ssimOfLoss(loss),
  low: ssimOfLoss(loss + z90 * sd),
  high: ssimOfLoss(loss - z90 * sd),
  origin: 'typical',
  from: 'typical at this quality for such a scene',
});

/** Bits a pixel and frame of a bit rate. */
export const perPixel = (bitsPerSecond: number, { size, rate }: Recipe): number =>
  bitsPerSecond / (size.widthPx * size.heightPx * framesPerSecond(rate));

/** log2(1 - SSIM) of Motion JPEG by its quantiser, means over the three scenes (`npm run fit`). */
const quantiserCurve = [
  { quality: 2, bits: 0, loss: -4.7 },
  { quality: 4, bits: 0, loss: -3.65 },
  { quality: 8, bits: 0, loss: -3.1 },
  { quality: 16, bits: 0, loss: -2.74 },
];
const quantiserLoss = (quantiser: number): number => onCurve(quantiserCurve, quantiser, 'loss');

/** Word for the picture that a quantiser gives. */
export const quantiserWord = (quantiser: number): QualityWord => qualityWord(ssimOfLoss(quantiserLoss(quantiser)));

const anyScene: SceneKnowledge = { motion: 0.5, detail: 0.5, known: false, kind: null };

/**
 * The number of one encoder's scale that gives the same SSIM as a number of another's, at effort light over the three measured
 * scenes: numbers of two encoders mean different things (HEVC at 20 gives 0.944 where AVC gives 0.974).
 */
export function equalQuality(quality: number, from: EncoderName, to: EncoderName): number {
  if (!curveOf[from] || !curveOf[to]) return quality;
  const of = (encoder: EncoderName, q: number): number =>
    curveLoss({ encode: { encoder, effort: 'light' } as Recipe['encode'] }, q, anyScene);
  const wanted = of(from, quality);
  let [low, high] = [0, encoderFacts[to].quality?.worst ?? 51];
  for (let step = 0; step < 20; step++) {
    const middle = (low + high) / 2;
    if (of(to, middle) < wanted) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
