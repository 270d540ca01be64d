import type { Figure, Recipe } from '@mellow/model';
import { framesPerSecond } from '../units';
import { encoderFacts } from './encoders';
import type { RateForecast } from './rateModel';

export const qualityWordNames = ['exact', 'cannot be told apart', 'clear', 'soft', 'blocky'] as const;
export type QualityWord = (typeof qualityWordNames)[number];

/** Structural similarity from which on each word holds: ours, set so that 18, 24 and 28 on AVC's scale part them (common practice). */
const leastSsim: readonly (readonly [QualityWord, number])[] = [
  ['cannot be told apart', 0.99],
  ['clear', 0.97],
  ['soft', 0.953],
];

/** log2(1 - SSIM) at quality 18 and per step, fitted on the practice game (12: 0.998, 18: 0.993, 24: 0.976, 30: 0.951; docs/model.md). */
const similarity = { at18: -7.1, perStep: 0.29, spread: 0.9 };

export interface PictureForecast {
  word: QualityWord;
  /** SSIM of luma against the scaled picture, typical; null for lossless. */
  ssim: Figure | null;
  /** The quality number on AVC's scale that the recipe amounts to; null for lossless. */
  quality: number | null;
}

/** Word for a structural similarity. */
export const qualityWord = (ssim: number): QualityWord => leastSsim.find(([, least]) => ssim >= least)?.[0] ?? 'blocky';

const ssimOf = (quality: number, off = 0): number =>
  Math.max(0.5, 1 - 2 ** (Math.min(-3.2, similarity.at18 + similarity.perStep * (quality - 18)) + off));

/** SSIM at a quality number on AVC's scale, for the ruler. */
export const typicalSsim = (quality: number): number => ssimOf(quality);

/**
 * What the picture will look like. A set bitrate is turned into the quality number that needs as many bits.
 * @param bitsPerPixel of the set rate, null for constant quality @param atMiddle forecast of the same recipe at quality 23
 */
export function forecastPicture(recipe: Recipe, bitsPerPixel: number | null, atMiddle: RateForecast): PictureForecast {
  const { encode } = recipe;
  if (encode.rateControl === 'lossless') return { word: 'exact', ssim: null, quality: null };
  const scale = encoderFacts[encode.encoder].quality?.worst ?? 51;
  let quality: number;
  if (encode.rateControl === 'picture-by-picture') quality = qualityOfQuantiser(encode.quantiser);
  else if (encode.rateControl === 'constant-quality' || bitsPerPixel === null) quality = (encode.quality * 51) / scale;
  else quality = 23 - Math.log2(bitsPerPixel / atMiddle.bitsPerPixel.value) * atMiddle.stepsPerHalving;
  quality = Math.min(51, Math.max(0, quality));
  const value = ssimOf(quality);
  return {
    word: qualityWord(value),
    quality,
    ssim: {
      value,
      low: ssimOf(quality, similarity.spread),
      high: ssimOf(quality, -similarity.spread),
      origin: 'typical',
      from: 'typical at this quality; no trial measures the picture yet',
    },
  };
}

/** Bits a pixel and frame of a bit rate. */
export const perPixel = (bitsPerSecond: number, { size, rate }: Recipe): number =>
  bitsPerSecond / (size.widthPx * size.heightPx * framesPerSecond(rate));

/** Where a quantiser of picture-by-picture codecs stands on AVC's scale (docs/model.md, "Rate and quality"; an estimate). */
const qualityOfQuantiser = (quantiser: number): number => 12 + (quantiser - 1) * 0.83;

/** Word for the picture that a quantiser gives. */
export const quantiserWord = (quantiser: number): QualityWord => qualityWord(ssimOf(qualityOfQuantiser(quantiser)));
