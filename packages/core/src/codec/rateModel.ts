import {
  practiceScenes,
  type EncoderName,
  type Figure,
  type PracticeSceneName,
  type RateProbe,
  type Recipe,
} from '@mellow/model';
import { asFiled, filedSize } from '../picture/camera';
import { framesPerSecond } from '../units';
import { effortBits } from './effortOffsets';
import { encoderFacts, hasQualityNumber } from './encoders';
import { evenShares, mixLog2, type PassageShares } from './passageMix';
import {
  blockEffortBits,
  curveOf,
  inPlay,
  measuredCurves,
  onCurve,
  perPixelDoubling,
  perRateDoubling,
  quantiserOffsets,
  rateDoublingOf,
  scaledDown,
  type SoftwareStandard,
} from './rateTables';

/** What is known of a scene before any probe: how it moves and how fine it is, 0 to 1, and which of the measured kinds it is like. */
export interface SceneKnowledge {
  motion: number;
  detail: number;
  /** Whether a person has said how it moves. */
  known: boolean;
  /** Null: it may be like any of them. */
  kind: PracticeSceneName | null;
  /** What the stretch that is looked at is made of; left out: as much calm as busy. */
  shares?: PassageShares;
  /** Pixels of the game as it is played, where real play is foretold. */
  playedPixels?: number;
}

export interface RateForecast {
  /** Bits a pixel and frame of the picture track, middle and 10 to 90 %. */
  bitsPerPixel: Figure;
  probes: number;
  /** The quality number at which so many bits a pixel are needed; null for encoders without one. */
  qualityFor: ((bitsPerPixel: number) => number) | null;
}

/** How the measured scenes were set; another setting of the same scene shifts its curve (assumed). */
const looks: Record<PracticeSceneName, { motion: number; detail: number }> = {
  'paper-comets': { motion: 0.6, detail: 0.4 },
  'harrow-vale': { motion: 0.25, detail: 0.4 },
  'tin-cathedral': { motion: 0.5, detail: 0.8 },
};
const perMotion = 1;
const perDetail = 1.2;
/** Standard deviations of log2 of the size: of a measured scene, of one whose motion nobody told, and of any content. */
const spreads = { kind: 0.36, motionUnknown: 0.8, any: 1.05 };
/** What a quality number's slope may differ from the curve's, log2 a step of AVC's scale. */
const slopeSpread = 0.03;

/** Lossless: bits a pixel, low and high end, by kind of scene (calm and busy, 720 and 1080 lines; `npm run fit`), and of any content. */
const losslessBits: Partial<
  Record<EncoderName, Record<PracticeSceneName | 'any', readonly [low: number, high: number]>>
> = {
  'ffv1-software': {
    'paper-comets': [1.1, 2],
    'harrow-vale': [3, 5.6],
    'tin-cathedral': [2.6, 4.8],
    any: [1.1, 5.6],
  },
  'utvideo-software': {
    'paper-comets': [2, 4],
    'harrow-vale': [3.6, 7],
    'tin-cathedral': [3.4, 6.5],
    any: [2, 7],
  },
  'avc-software': {
    'paper-comets': [0.12, 0.5],
    'harrow-vale': [0.12, 1.2],
    'tin-cathedral': [2.8, 5.4],
    any: [0.12, 5.4],
  },
  'hevc-software': {
    'paper-comets': [0.12, 0.45],
    'harrow-vale': [0.1, 1],
    'tin-cathedral': [2.6, 5],
    any: [0.1, 5],
  },
};
/** Ten bits cost hardly more: what is finer is mostly predicted (common practice). */
const pixelFactor = { '4:2:0': 1, '4:2:0-10': 1.03, '4:4:4': 1.5, rgb: 2.1 } as const;

/** Standard deviation of log2 of the size of ten seconds against the next ten of the same game. */
const contentSpread = 0.12;
const z90 = 1.2816;

const toFigure = (mean: number, sd: number, origin: Figure['origin'], from: string): Figure => ({
  value: 2 ** mean,
  low: 2 ** (mean - z90 * sd),
  high: 2 ** (mean + z90 * sd),
  origin,
  from,
});

const middleOf = (encoder: EncoderName): number => (encoder.startsWith('av1') ? 33 : 23);

/** log2 of the bits a pixel that the measured curves give a recipe, before any probe. */
export function curveBits(recipe: Recipe, quality: number, scene: SceneKnowledge): number {
  const { encode, size, rate } = asFiled(recipe);
  const on = curveOf[encode.encoder];
  if (!on) return 0;
  const software = encode.encoder === on.as;
  const effortOf = (kind: PracticeSceneName): number =>
    software ? effortBits(on.as, encode.effort, kind, quality) : blockEffortBits[encode.effort];
  const rateLog2 = Math.log2(framesPerSecond(rate) / 60);
  return (
    overKinds(
      scene,
      (kind) =>
        onCurve(measuredCurves[on.as][kind], quality, 'bits') +
        shiftOf(scene, kind) +
        mixLog2(kind, scene.shares ?? evenShares, 'bits') +
        effortOf(kind) +
        perPixelDoubling[on.as].bits[kind] * pixelsLog2(size) +
        perRateDoubling[kind] * rateDoublingOf[on.as].bits * rateLog2 +
        playLog2(kind, scene, size, { bits: on.as }),
    ) +
    on.bits +
    (encode.rateControl === 'constant-quantiser' ? quantiserOffsets[on.as].bits : 0) -
    0.1 * Math.min(2, encode.bFrames) +
    Math.log2(pixelFactor[encode.pixels]) +
    keyPictureLog2(encode.keyDistanceFrames, framesPerSecond(rate))
  );
}

/** log2 of what real play, and scaling it down, makes of bits or loss; 0 where no play is foretold. */
export function playLog2(
  kind: PracticeSceneName,
  { playedPixels }: SceneKnowledge,
  { widthPx, heightPx }: Pick<Recipe['size'], 'widthPx' | 'heightPx'>,
  of: 'loss' | { bits: SoftwareStandard },
): number {
  if (playedPixels === undefined) return 0;
  const doublings = Math.max(0, Math.log2(playedPixels / (widthPx * heightPx)));
  const [play, down] = [inPlay[kind], scaledDown[kind]];
  return of === 'loss' ? play.loss + down.loss * doublings : play.bits + down.bits[of.bits] * doublings;
}

/** log2 of the pixels against those of the measured curves. */
export function pixelsLog2({ widthPx, heightPx }: Pick<Recipe['size'], 'widthPx' | 'heightPx'>): number {
  return Math.log2((widthPx * heightPx) / (1280 * 720));
}

/** The value for a scene's kind, or the mean over all kinds. */
export function overKinds(scene: SceneKnowledge, of: (kind: PracticeSceneName) => number): number {
  if (scene.kind) return of(scene.kind);
  return practiceScenes.reduce((sum, kind) => sum + of(kind), 0) / practiceScenes.length;
}

function shiftOf(scene: SceneKnowledge, kind: PracticeSceneName): number {
  return scene.kind === null
    ? perMotion * (scene.motion - 0.5)
    : perMotion * (scene.motion - looks[kind].motion) + perDetail * (scene.detail - looks[kind].detail);
}

const priorSpread = (scene: SceneKnowledge, encoder: EncoderName): number => {
  const content = scene.kind === null ? spreads.any : scene.known ? spreads.kind : spreads.motionUnknown;
  return Math.hypot(content, curveOf[encoder]?.spread ?? 0);
};

const sameSpread = 0.03;

/**
 * Size over the quality number: the measured curve of encoder and kind of scene, moved up or down and tilted by what trials
 * found: log2(bits a pixel) = curve(q) + a + s (q - middle), a and s with a prior and fitted by Bayesian linear regression, so
 * that no probe, one and many are the same formula and the range narrows with each. A probe of another encoder, effort, size or
 * rate is carried over by its distance from its own curve, with a wider spread.
 */
export function forecastRate(recipe: Recipe, probes: readonly RateProbe[], scene: SceneKnowledge): RateForecast {
  const { encode } = recipe;
  if (encode.rateControl === 'lossless') return losslessRate(recipe, probes, scene);
  if (encode.rateControl === 'picture-by-picture') return quantiserRate(recipe, probes);
  // Precision form of the normal posterior of (a, s).
  let [paa, pas, pss] = [1 / priorSpread(scene, encode.encoder) ** 2, 0, 1 / slopeSpread ** 2];
  let [ba, bs] = [0, 0];
  let used = 0;
  let exact = 0;
  for (const probe of probes) {
    if (!hasQualityNumber(probe.encode)) continue;
    const own = asRecipe(probe, recipe);
    const spread = carrySpread(probe, recipe);
    const x = probe.encode.encoder === encode.encoder ? probe.encode.quality - middleOf(encode.encoder) : 0;
    const y = Math.log2(probe.bitsPerPixel) - curveBits(own, probe.encode.quality, seenBy(probe, scene));
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
  const bitsAt = (quality: number): number =>
    curveBits(recipe, quality, scene) + a + s * (quality - middleOf(encode.encoder));
  const x = encode.quality - middleOf(encode.encoder);
  const sd = Math.sqrt(vaa + 2 * x * vas + x * x * vss + contentSpread ** 2);
  return {
    bitsPerPixel: toFigure(bitsAt(encode.quality), sd, used ? 'fitted' : 'typical', rateOriginText(exact, used, scene)),
    probes: used,
    qualityFor: (bitsPerPixel) => solvedQuality(bitsAt, Math.log2(bitsPerPixel), encode.encoder),
  };
}

/** A trial went through passages of its own. */
export function seenBy({ shares }: Pick<RateProbe, 'shares'>, scene: SceneKnowledge): SceneKnowledge {
  return shares ? { ...scene, shares } : scene;
}

function rateOriginText(exact: number, used: number, scene: SceneKnowledge): string {
  const trials = (n: number): string => `${n} ${n === 1 ? 'trial' : 'trials'}`;
  if (exact) return `fitted from ${trials(exact)} of this picture`;
  if (used) return `carried over from ${trials(used)} with other settings`;
  return scene.known ? 'typical for such a scene; a trial narrows it' : 'the scene is not known; a trial settles it';
}

/** The number at which a falling curve comes down to a value; the scale's ends where it never does. */
function solvedQuality(bitsAt: (quality: number) => number, wanted: number, encoder: EncoderName): number {
  let [low, high] = [0, encoderFacts[encoder].quality?.worst ?? 51];
  for (let step = 0; step < 24; step++) {
    const middle = (low + high) / 2;
    if (bitsAt(middle) > wanted) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** More key pictures make a larger file: every 15 frames against every 2 s at 60 fps 7 to 13 % on moving scenes. */
function keyPictureLog2(distance: number, fps: number): number {
  return 0.15 * Math.max(0, Math.log2((2 * fps) / Math.max(1, distance)) / 3);
}

/** A recipe with a trial's encoder, size and rate. */
export function asRecipe(probe: RateProbe, recipe: Recipe): Recipe {
  return {
    ...recipe,
    camera: null,
    encode: probe.encode,
    size: { ...recipe.size, widthPx: probe.widthPx, heightPx: probe.heightPx },
    rate: { num: Math.round(probe.fps * 1000), den: 1000 },
  };
}

function carrySpread(probe: RateProbe, recipe: Recipe): number {
  const { encode } = recipe;
  let variance = sameSpread ** 2;
  if (probe.encode.encoder !== encode.encoder) variance += 0.4 ** 2;
  if (probe.encode.effort !== encode.effort) variance += 0.35 ** 2;
  if (probe.encode.rateControl !== encode.rateControl && hasQualityNumber(encode)) variance += 0.25 ** 2;
  if (probe.encode.pixels !== encode.pixels) variance += 0.2 ** 2;
  if (probe.encode.bFrames !== encode.bFrames || probe.encode.lowDelay !== encode.lowDelay) variance += 0.12 ** 2;
  if (probe.encode.keyDistanceFrames !== encode.keyDistanceFrames) variance += 0.08 ** 2;
  const { widthPx, heightPx } = filedSize(recipe);
  variance += (0.22 * Math.log2((probe.widthPx * probe.heightPx) / (widthPx * heightPx))) ** 2;
  variance += (0.35 * Math.log2(probe.fps / framesPerSecond(recipe.rate))) ** 2;
  return Math.sqrt(variance);
}

function losslessRate({ encode }: Recipe, probes: readonly RateProbe[], scene: SceneKnowledge): RateForecast {
  const same = probes.filter(
    (p) =>
      p.encode.rateControl === 'lossless' && p.encode.encoder === encode.encoder && p.encode.pixels === encode.pixels,
  );
  if (same.length) return { bitsPerPixel: meanOf(same), qualityFor: null, probes: same.length };
  const byKind = losslessBits[encode.encoder];
  const [low, high] = (scene.kind && byKind?.[scene.kind]) ?? byKind?.any ?? [1.6, 5];
  const factor = pixelFactor[encode.pixels];
  return {
    bitsPerPixel: {
      value: Math.sqrt(low * high) * factor,
      low: low * factor,
      high: high * factor,
      origin: 'typical',
      from: 'typical for lossless; it follows the content',
    },
    qualityFor: null,
    probes: 0,
  };
}

function quantiserRate({ encode }: Recipe, probes: readonly RateProbe[]): RateForecast {
  const same = probes.filter(
    (p) => p.encode.rateControl === 'picture-by-picture' && p.encode.quantiser === encode.quantiser,
  );
  if (same.length) return { bitsPerPixel: meanOf(same), qualityFor: null, probes: same.length };
  const scale = encode.quantiser;
  // 1.36, 0.63, 0.36 and 0.22 bits a pixel at scales 2, 4, 8 and 16, geometric means over the three scenes.
  const value = 1.3 * (scale / 2) ** -0.87;
  return {
    bitsPerPixel: {
      value,
      low: value * 0.6,
      high: value * 1.7,
      origin: 'typical',
      from: 'typical for picture-by-picture codecs',
    },
    qualityFor: null,
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
