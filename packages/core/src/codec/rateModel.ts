import type { Effort, EncoderName, Figure, RateProbe, Recipe } from '@mellow/model';
import { framesPerSecond } from '../units';

/** What is known of a scene before any probe: 0 to 1 each, and how sure. */
export interface SceneKnowledge {
  motion: number;
  detail: number;
  known: boolean;
}

export interface RateForecast {
  /** Bits a pixel and frame of the picture track, middle and 10 to 90 %. */
  bitsPerPixel: Figure;
  /** Steps of the quality number that halve the size, as fitted. */
  stepsPerHalving: number;
  probes: number;
}

/**
 * Prior (docs/model.md, "Rate and quality"): log2 of the bits a pixel of AVC at the lightest effort and quality 23 for a middling
 * scene, and what motion and detail add; measured on the practice game and on game-like clips, so with a wide spread.
 */
const prior = {
  log2AtMiddle: -3.9,
  perMotion: 1.6,
  perDetail: 1.2,
  spreadKnown: 0.8,
  spreadUnknown: 1.2,
  slope: -1 / 6.5,
  slopeSpread: 0.022,
};
const middleQuality = 23;

/** Size at one quality number against AVC at the lightest effort; log2, typical (measured ratios and common practice). */
const encoderLog2: Record<EncoderName, number> = {
  'avc-software': 0,
  'hevc-software': -0.55,
  'av1-software': -0.4,
  'ffv1-software': 0,
  'utvideo-software': 0,
  'mjpeg-software': 0,
  'avc-card': -0.75,
  'hevc-card': -1.2,
  'av1-card': -1.3,
  'avc-processor-graphics': -0.7,
  'hevc-processor-graphics': -1.1,
};
const effortLog2: Record<Effort, number> = {
  lightest: 0,
  light: -0.5,
  middle: -1.25,
  thorough: -1.25,
  'most-thorough': -1.3,
};
/** Hardware blocks and AV1 gain less from effort than the software ladder. */
const effortShare = (encoder: EncoderName): number => (encoder === 'avc-software' ? 1 : 0.3);

/** Lossless and picture-by-picture codecs: bits a pixel, low and high end (measured on game-like clips, docs/model.md). */
const losslessBits: Partial<Record<EncoderName, readonly [number, number]>> = {
  'ffv1-software': [1.4, 3],
  'utvideo-software': [2.4, 5],
  'avc-software': [0.25, 3.2],
  'hevc-software': [0.25, 2.8],
};
const pixelFactor = { '4:2:0': 1, '4:4:4': 1.5, rgb: 2.1 } as const;

/** Standard deviation of log2 of the size of ten seconds against the next ten of the same game. */
const contentSpread = 0.12;
const z90 = 1.2816;

/** AV1's scale runs to 63: its steps are put on AVC's scale of 51. */
const onCommonScale = (encoder: EncoderName, quality: number): number =>
  encoder.startsWith('av1') ? (quality * 51) / 63 : quality;

const toFigure = (mean: number, sd: number, origin: Figure['origin'], from: string): Figure => ({
  value: 2 ** mean,
  low: 2 ** (mean - z90 * sd),
  high: 2 ** (mean + z90 * sd),
  origin,
  from,
});

/**
 * Log-linear model of size over the quality number: log2(bits a pixel) = a + s (q - 23), a and s with a prior and fitted by
 * Bayesian linear regression, so that no probe, one and many are the same formula and the range narrows with each.
 * A probe of another encoder, effort, size or rate is carried over with a wider spread (pixels^-0.25, fps^-0.4 a pixel: assumptions).
 */
export function forecastRate(recipe: Recipe, probes: readonly RateProbe[], scene: SceneKnowledge): RateForecast {
  const { encode } = recipe;
  if (encode.rateControl === 'lossless') return losslessRate(recipe, probes);
  if (encode.rateControl === 'picture-by-picture') return quantiserRate(recipe, probes);
  const a0 =
    prior.log2AtMiddle +
    prior.perMotion * (scene.motion - 0.5) +
    prior.perDetail * (scene.detail - 0.5) +
    constantOf(recipe);
  const spreadA = scene.known ? prior.spreadKnown : prior.spreadUnknown;
  // Precision form of the normal posterior of (a, s).
  let [paa, pas, pss] = [1 / spreadA ** 2, 0, 1 / prior.slopeSpread ** 2];
  let [ba, bs] = [a0 * paa, prior.slope * pss];
  let used = 0;
  let exact = 0;
  for (const probe of probes) {
    if (probe.encode.rateControl !== 'constant-quality') continue;
    const x = onCommonScale(probe.encode.encoder, probe.encode.quality) - middleQuality;
    const { shift, spread } = carryOver(probe, recipe);
    const y = Math.log2(probe.bitsPerPixel) + shift;
    const weight = 1 / (spread ** 2 + contentSpread ** 2 * (10 / Math.max(2, probe.seconds)));
    paa += weight;
    pas += weight * x;
    pss += weight * x * x;
    ba += weight * y;
    bs += weight * x * y;
    used++;
    if (spread <= sameSpread) exact++;
  }
  const det = paa * pss - pas * pas;
  const [vaa, vas, vss] = [pss / det, -pas / det, paa / det];
  const a = vaa * ba + vas * bs;
  const s = vas * ba + vss * bs;
  const x = onCommonScale(encode.encoder, encode.quality) - middleQuality;
  const sd = Math.sqrt(vaa + 2 * x * vas + x * x * vss + contentSpread ** 2);
  const from = exact
    ? `fitted from ${exact} ${exact === 1 ? 'trial' : 'trials'} of this picture`
    : used
      ? `carried over from ${used} ${used === 1 ? 'trial' : 'trials'} with other settings`
      : scene.known
        ? 'typical for such a scene; a trial narrows it'
        : 'the scene is not known; a trial settles it';
  return {
    bitsPerPixel: toFigure(a + s * x, sd, used ? 'fitted' : 'typical', from),
    stepsPerHalving: -1 / s,
    probes: used,
  };
}

const sameSpread = 0.03;

const constantOf = ({ encode, size, rate }: Recipe): number =>
  encoderLog2[encode.encoder] +
  effortLog2[encode.effort] * effortShare(encode.encoder) -
  0.1 * Math.min(2, encode.bFrames) +
  Math.log2(pixelFactor[encode.pixels]) -
  0.25 * Math.log2((size.widthPx * size.heightPx) / (1280 * 720)) -
  0.4 * Math.log2(framesPerSecond(rate) / 60) +
  keyPictureLog2(encode.keyDistanceFrames, framesPerSecond(rate));

/** More key pictures make a larger file: every 15 frames against every 2 s at 60 fps 7 to 13 % on moving scenes. */
const keyPictureLog2 = (distance: number, fps: number): number =>
  0.15 * Math.max(0, Math.log2((2 * fps) / Math.max(1, distance)) / 3);

function carryOver(probe: RateProbe, recipe: Recipe): { shift: number; spread: number } {
  const asRecipe: Recipe = {
    ...recipe,
    encode: probe.encode,
    size: { ...recipe.size, widthPx: probe.widthPx, heightPx: probe.heightPx },
    rate: { num: Math.round(probe.fps * 1000), den: 1000 },
  };
  const { encode } = recipe;
  let variance = sameSpread ** 2;
  if (probe.encode.encoder !== encode.encoder) variance += 0.4 ** 2;
  if (probe.encode.effort !== encode.effort) variance += 0.35 ** 2;
  if (probe.encode.pixels !== encode.pixels) variance += 0.2 ** 2;
  if (probe.encode.bFrames !== encode.bFrames || probe.encode.lowDelay !== encode.lowDelay) variance += 0.12 ** 2;
  if (probe.encode.keyDistanceFrames !== encode.keyDistanceFrames) variance += 0.08 ** 2;
  variance += (0.15 * Math.log2((probe.widthPx * probe.heightPx) / (recipe.size.widthPx * recipe.size.heightPx))) ** 2;
  variance += (0.25 * Math.log2(probe.fps / framesPerSecond(recipe.rate))) ** 2;
  return { shift: constantOf(recipe) - constantOf(asRecipe), spread: Math.sqrt(variance) };
}

function losslessRate({ encode }: Recipe, probes: readonly RateProbe[]): RateForecast {
  const same = probes.filter(
    (p) =>
      p.encode.rateControl === 'lossless' && p.encode.encoder === encode.encoder && p.encode.pixels === encode.pixels,
  );
  if (same.length) return { bitsPerPixel: meanOf(same), stepsPerHalving: Infinity, probes: same.length };
  const [low, high] = losslessBits[encode.encoder] ?? [1.6, 5];
  const factor = pixelFactor[encode.pixels];
  return {
    bitsPerPixel: {
      value: Math.sqrt(low * high) * factor,
      low: low * factor,
      high: high * factor,
      origin: 'typical',
      from: 'typical for lossless; it follows the content',
    },
    stepsPerHalving: Infinity,
    probes: 0,
  };
}

function quantiserRate({ encode }: Recipe, probes: readonly RateProbe[]): RateForecast {
  const same = probes.filter(
    (p) => p.encode.rateControl === 'picture-by-picture' && p.encode.quantiser === encode.quantiser,
  );
  if (same.length) return { bitsPerPixel: meanOf(same), stepsPerHalving: Infinity, probes: same.length };
  const scale = encode.quantiser;
  // 47, 30, 19 and 13 Mb/s at scales 2, 4, 8 and 16 for 720p60 (docs/model.md): bits fall with scale^-0.63.
  const value = 0.85 * (scale / 2) ** -0.63;
  return {
    bitsPerPixel: {
      value,
      low: value * 0.6,
      high: value * 1.7,
      origin: 'typical',
      from: 'typical for picture-by-picture codecs',
    },
    stepsPerHalving: Infinity,
    probes: 0,
  };
}

function meanOf(probes: readonly RateProbe[]): Figure {
  const log = probes.reduce((sum, p) => sum + Math.log2(p.bitsPerPixel), 0) / probes.length;
  return toFigure(
    log,
    contentSpread,
    'fitted',
    `measured by ${probes.length} ${probes.length === 1 ? 'trial' : 'trials'}`,
  );
}
