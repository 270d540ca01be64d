import { practiceScenes, type EncoderName, type PracticeSceneName, type Recipe } from '@mellow/model';
import { hasQualityNumber } from './encoders';
import { passageFactors, type PassageShares } from './passageMix';
import { perPixel } from './pictureQuality';
import { curveBits, type SceneKnowledge } from './rateModel';

/** Encoders whose work follows what they see, as `npm run fit` measured it. */
type Fitted = 'avc-software' | 'hevc-software' | 'av1-software' | 'vp9-software';

interface ContentFit {
  /** log2 of the work a pixel in each scene at one and the same number of bits, against the test encode's scene. */
  scenes: Record<PracticeSceneName, number>;
  /** log2 of the work for each doubling of the bits a pixel. */
  perDoubling: number;
  /** log2 of the bits a pixel that the test encode comes to. */
  reference: number;
}

/** Linear regression of log2(work a pixel) over the rows, effort and size taken out (docs/model.md, "Work"). */
export const contentFits: Record<Fitted, ContentFit> = {
  'avc-software': {
    scenes: { 'paper-comets': 0, 'harrow-vale': 0.01, 'tin-cathedral': 0.57 },
    perDoubling: 0.205,
    reference: -2.2,
  },
  'hevc-software': {
    scenes: { 'paper-comets': 0, 'harrow-vale': 0.18, 'tin-cathedral': 1.04 },
    perDoubling: 0.334,
    reference: -4,
  },
  'av1-software': {
    scenes: { 'paper-comets': 0, 'harrow-vale': -0.43, 'tin-cathedral': -0.41 },
    perDoubling: 0.225,
    reference: -5,
  },
  // Scenes by three rows each, what a doubling costs as of its successor.
  'vp9-software': {
    scenes: { 'paper-comets': 0, 'harrow-vale': 0.36, 'tin-cathedral': 0.9 },
    perDoubling: 0.2,
    reference: -3.8,
  },
};
const fitOf = (encoder: EncoderName): ContentFit | null => contentFits[encoder as Fitted] ?? null;

/** Standard deviation of log2 of the work: of a measured scene beside its fit, and of any content. */
const spreads = { kind: 0.07, any: 0.7 };
const z90 = 1.2816;

/** Factor on the work of a test encode for what a recipe sees, and how wide it is, 10 to 90 %; 1 where the encoder's work does not follow it. */
export function contentWork(recipe: Recipe, scene: SceneKnowledge): { factor: number; wide: number } {
  const fit = fitOf(recipe.encode.encoder);
  if (!fit || recipe.encode.rateControl === 'lossless') return { factor: 1, wide: 1.15 };
  const kinds: readonly PracticeSceneName[] = scene.kind ? [scene.kind] : practiceScenes;
  const { encode } = recipe;
  // Efforts have factors of their own at one number; here it is what the scene brings.
  const plain = { ...recipe, encode: { ...encode, effort: 'lightest' as const } };
  const bitsOf = (kind: PracticeSceneName): number =>
    hasQualityNumber(encode)
      ? curveBits(plain, encode.quality, { ...scene, kind })
      : Math.log2(perPixel(encode.bitrateKbps * 1000, recipe));
  const log2 =
    kinds.reduce((sum, kind) => sum + fit.scenes[kind] + fit.perDoubling * (bitsOf(kind) - fit.reference), 0) /
    kinds.length;
  return { factor: 2 ** log2, wide: 2 ** (z90 * (scene.kind ? spreads.kind : spreads.any)) };
}
const leastWork = 0.12;
/** Between passages of one scene work goes nearly with the bits; a still picture costs some all the same. */
const passagePower = 0.75;

/** Work of an encoder in each kind of passage against its mean over a mix of them. @param follows 0 to 1: how far it follows what it sees */
export function encodeMix(kind: PracticeSceneName, shares: PassageShares, follows: number): PassageShares {
  const of = (passage: keyof PassageShares): number =>
    Math.max(leastWork, passageFactors[kind][passage].bits ** passagePower) ** follows;
  const raw: PassageShares = { calm: of('calm'), busy: of('busy'), loading: of('loading') };
  const mean = raw.calm * shares.calm + raw.busy * shares.busy + raw.loading * shares.loading;
  return { calm: raw.calm / mean, busy: raw.busy / mean, loading: raw.loading / mean };
}
