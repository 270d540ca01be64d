import type { EncoderName, Figure, RateProbe, Recipe } from '@mellow/model';
import { asFiled, filedSize } from '../picture/camera';
import { framesPerSecond } from '../units';
import { effortOffsets } from './effortOffsets';
import { encoderFacts, hasQualityNumber } from './encoders';
import { fitLoss, ssimOfLoss } from './pictureFit';
import { evenShares, mixLog2 } from './passageMix';
import { asRecipe, overKinds, pixelsLog2, playLog2, seenBy, type RateForecast, type SceneKnowledge } from './rateModel';
import { curveOf, measuredCurves, onCurve, perPixelDoubling, quantiserOffsets, rateDoublingOf } from './rateTables';

export const qualityWordNames = ['exact', 'cannot be told apart', 'clear', 'soft', 'blocky'] as const;
export type QualityWord = (typeof qualityWordNames)[number];

/** Structural similarity from which on each word holds; one table for every encoder and rate control (ours). */
const leastSsim: readonly (readonly [QualityWord, number])[] = [
  ['cannot be told apart', 0.985],
  ['clear', 0.955],
  ['soft', 0.92],
];

export interface PictureForecast {
  word: QualityWord;
  /** SSIM of luma against what the encoder is given; null for lossless. */
  ssim: Figure | null;
  /** The quality number on the encoder's own scale that the recipe amounts to; null for lossless and codecs without one. */
  quality: number | null;
}

/** Structural similarity from which on a word holds. */
export const leastSsimOf = (word: Exclude<QualityWord, 'exact' | 'blocky'>): number =>
  leastSsim.find(([name]) => name === word)?.[1] ?? 1;

/** Word for a structural similarity. */
export const qualityWord = (ssim: number): QualityWord => leastSsim.find(([, least]) => ssim >= least)?.[0] ?? 'blocky';

/** What a picture's look depends on. */
type Pictured = Pick<Recipe, 'encode' | 'size' | 'rate'> & { camera?: Recipe['camera'] };

/** log2(1 - SSIM) that the measured curves give at a quality number. */
function curveLoss(recipe: Pictured, quality: number, scene: SceneKnowledge): number {
  const { encode, size, rate } = asFiled(recipe);
  const on = curveOf[encode.encoder] ?? { as: 'avc-software' as const, loss: 0 };
  const effort = encode.encoder === on.as ? effortOffsets[on.as][encode.effort].loss : 0;
  const quantiser = encode.rateControl === 'constant-quantiser' ? quantiserOffsets[on.as].loss : 0;
  return (
    overKinds(
      scene,
      (kind) =>
        onCurve(measuredCurves[on.as][kind], quality, 'loss') +
        mixLog2(kind, scene.shares ?? evenShares, 'loss') +
        playLog2(kind, scene, size, 'loss'),
    ) +
    on.loss +
    effort +
    quantiser +
    perPixelDoubling[on.as].loss * pixelsLog2(size) +
    rateDoublingOf[on.as].loss * Math.log2(framesPerSecond(rate) / 60)
  );
}

/** SSIM at a quality number on the encoder's own scale, for the ruler. */
export const typicalSsim = (recipe: Pictured, quality: number, scene: SceneKnowledge): number =>
  ssimOfLoss(curveLoss(recipe, quality, scene));

/**
 * What the picture will look like. A set bitrate is turned into the quality number that needs as many bits.
 * @param bitsPerPixel of the set rate, null for constant quality @param rate forecast of the same recipe with a quality number
 * @param probes trials, of which those whose picture was measured count
 */
export function forecastPicture(
  recipe: Recipe,
  bitsPerPixel: number | null,
  rate: RateForecast,
  scene: SceneKnowledge,
  probes: readonly RateProbe[] = [],
): PictureForecast {
  const { encode } = recipe;
  if (encode.rateControl === 'lossless') return { word: 'exact', ssim: null, quality: null };
  if (encode.rateControl === 'picture-by-picture') {
    const ssim = fitLoss(recipe, quantiserLoss(encode.quantiser), 'any', probes, ({ encode: other }) =>
      other.rateControl === 'picture-by-picture' ? quantiserLoss(other.quantiser) : null,
    );
    return { word: qualityWord(ssim.value), ssim, quality: null };
  }
  const set = bitsPerPixel !== null && rate.qualityFor !== null;
  const quality = set ? finestOf(encode.encoder, rate.qualityFor!(bitsPerPixel)) : encode.quality;
  const ssim = fitLoss(
    recipe,
    curveLoss(recipe, quality, scene),
    !scene.kind ? 'any' : set ? 'setRate' : 'kind',
    probes,
    (probe) => curveLossOfProbe(probe, recipe, rate, seenBy(probe, scene)),
  );
  return { word: qualityWord(ssim.value), quality, ssim };
}

/** A set rate buys no more than a step or two beyond the finest that was measured: what is left over is not spent. */
function finestOf(encoder: EncoderName, quality: number): number {
  return Math.max(
    quality,
    (measuredCurves[curveOf[encoder]?.as ?? 'avc-software']['paper-comets'][0]?.quality ?? 0) - 2,
  );
}

/** What the curve gave for a trial; a set rate tells its number only where trial and recipe have one curve of sizes. */
function curveLossOfProbe(probe: RateProbe, recipe: Recipe, rate: RateForecast, scene: SceneKnowledge): number | null {
  const { encode, bitsPerPixel } = probe;
  if (!curveOf[encode.encoder]) return null;
  const own = asRecipe(probe, recipe);
  if (hasQualityNumber(encode)) return curveLoss(own, encode.quality, scene);
  const set = encode.rateControl === 'constant-bitrate' || encode.rateControl === 'variable-bitrate';
  const alike = encode.encoder === recipe.encode.encoder && encode.effort === recipe.encode.effort;
  return set && alike && rate.qualityFor ? curveLoss(own, rate.qualityFor(bitsPerPixel), scene) : null;
}

/** Bits a pixel and frame of a bit rate. */
export function perPixel(bitsPerSecond: number, { size, rate, camera }: Recipe): number {
  const { widthPx, heightPx } = filedSize({ size, camera });
  return bitsPerSecond / (widthPx * heightPx * framesPerSecond(rate));
}

/** log2(1 - SSIM) of Motion JPEG by its quantiser, means over the three scenes (`npm run fit`). */
const quantiserCurve = [
  { quality: 2, bits: 0, loss: -4.7 },
  { quality: 4, bits: 0, loss: -3.65 },
  { quality: 8, bits: 0, loss: -3.1 },
  { quality: 16, bits: 0, loss: -2.74 },
];
function quantiserLoss(quantiser: number): number {
  return onCurve(quantiserCurve, quantiser, 'loss');
}

/** Word for the picture that a quantiser gives. */
export const quantiserWord = (quantiser: number): QualityWord => qualityWord(ssimOfLoss(quantiserLoss(quantiser)));

/** The picture of the measured curves. */
const usual = { size: { widthPx: 1280, heightPx: 720 } as Recipe['size'], rate: { num: 60, den: 1 } };
const anyScene: SceneKnowledge = { motion: 0.5, detail: 0.5, known: false, kind: null };

/**
 * The number of one encoder's scale that gives the same SSIM as a number of another's, at effort light over the three measured
 * scenes: numbers of two encoders mean different things (HEVC at 20 gives 0.944 where AVC gives 0.974).
 */
export function equalQuality(quality: number, from: EncoderName, to: EncoderName): number {
  if (!curveOf[from] || !curveOf[to]) return quality;
  const of = (encoder: EncoderName, q: number): number =>
    curveLoss({ ...usual, encode: { encoder, effort: 'light' } as Recipe['encode'] }, q, anyScene);
  const wanted = of(from, quality);
  let [low, high] = [0, encoderFacts[to].quality?.worst ?? 51];
  for (let step = 0; step < 20; step++) {
    const middle = (low + high) / 2;
    if (of(to, middle) < wanted) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
