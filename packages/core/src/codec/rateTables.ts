import type { Effort, EncoderName, PracticeSceneName } from '@mellow/model';

/**
 * What encoders made of the three practice scenes: 72 driven frames each of a calm and a busy passage at 1280x720 and 60 fps,
 * effort light, no B-frames, a key picture every 2 s (`npm run fit`; docs/model.md, "Rate and quality"). By quality number: log2 of the
 * bits a pixel and frame, and log2(1 - SSIM of luma), means of both passages.
 */
export interface Knot {
  quality: number;
  bits: number;
  loss: number;
}
type Curve = readonly Knot[];

const curve = (...points: readonly (readonly [quality: number, bits: number, loss: number])[]): Curve =>
  points.map(([quality, bits, loss]) => ({ quality, bits, loss }));

type SoftwareStandard = 'avc-software' | 'hevc-software' | 'av1-software';

export const measuredCurves: Record<SoftwareStandard, Record<PracticeSceneName, Curve>> = {
  'avc-software': {
    'paper-comets': curve([14, -2.84, -8.86], [20, -3.51, -7.04], [26, -4.55, -5.14], [32, -5.43, -4.22]),
    'harrow-vale': curve([14, -1.38, -7.07], [20, -1.97, -5.18], [26, -2.95, -3.89], [32, -4.16, -2.79]),
    'tin-cathedral': curve([14, 0.41, -4.97], [20, -1.62, -3.54], [26, -3.97, -3.06], [32, -5.24, -2.71]),
  },
  'hevc-software': {
    'paper-comets': curve([14, -3.62, -6.6], [20, -4.62, -4.87], [26, -5.64, -4.03], [32, -6.59, -3.68]),
    'harrow-vale': curve([14, -1.63, -5.35], [20, -2.66, -4.01], [26, -3.76, -3], [32, -5.56, -2.35]),
    'tin-cathedral': curve([14, -1.27, -3.65], [20, -3.6, -3.19], [26, -5.02, -2.9], [32, -6.16, -2.61]),
  },
  'av1-software': {
    'paper-comets': curve([20, -4.19, -7.23], [30, -5, -6.24], [40, -5.92, -5.21], [50, -7.05, -4.38]),
    'harrow-vale': curve([20, -1.47, -5.09], [30, -2.6, -4.4], [40, -3.98, -3.69], [50, -5.73, -3.2]),
    'tin-cathedral': curve([20, -1.68, -3.54], [30, -3.49, -3.26], [40, -4.9, -3.05], [50, -6.05, -2.89]),
  },
};

/** Against effort light at one quality number, means over the scenes; the two heaviest of HEVC and AV1 are assumed from the rung below. */
export const effortOffsets: Record<SoftwareStandard, Record<Effort, { bits: number; loss: number }>> = {
  'avc-software': {
    lightest: { bits: 0.2, loss: 0.42 },
    light: { bits: 0, loss: 0 },
    middle: { bits: -1.02, loss: 0.7 },
    thorough: { bits: -1.12, loss: 0.5 },
    'most-thorough': { bits: -1.17, loss: 0.42 },
  },
  'hevc-software': {
    lightest: { bits: 0.3, loss: 0.3 },
    light: { bits: 0, loss: 0 },
    middle: { bits: 0.36, loss: -0.52 },
    thorough: { bits: 0.32, loss: -0.6 },
    'most-thorough': { bits: 0.28, loss: -0.65 },
  },
  'av1-software': {
    lightest: { bits: 0.05, loss: 0.12 },
    light: { bits: 0, loss: 0 },
    middle: { bits: -0.06, loss: -0.1 },
    thorough: { bits: -0.1, loss: -0.18 },
    'most-thorough': { bits: -0.14, loss: -0.24 },
  },
};

/** Blocks are put on the curve of their standard in software, with more loss at one number; assumed, none was at hand. */
export const curveOf: Partial<
  Record<EncoderName, { as: SoftwareStandard; bits: number; loss: number; spread: number }>
> = {
  'avc-software': { as: 'avc-software', bits: 0, loss: 0, spread: 0 },
  'hevc-software': { as: 'hevc-software', bits: 0, loss: 0, spread: 0 },
  'av1-software': { as: 'av1-software', bits: 0, loss: 0, spread: 0 },
  'avc-card': { as: 'avc-software', bits: -0.3, loss: 0.5, spread: 0.45 },
  'hevc-card': { as: 'hevc-software', bits: 0.3, loss: 0.1, spread: 0.45 },
  'av1-card': { as: 'av1-software', bits: 0.3, loss: 0.2, spread: 0.45 },
  'avc-processor-graphics': { as: 'avc-software', bits: -0.2, loss: 0.5, spread: 0.45 },
  'hevc-processor-graphics': { as: 'hevc-software', bits: 0.4, loss: 0.1, spread: 0.45 },
};

/** Effort of a block: little in size and picture; assumed. */
export const blockEffortBits: Record<Effort, number> = {
  lightest: 0.1,
  light: 0,
  middle: -0.1,
  thorough: -0.15,
  'most-thorough': -0.2,
};

/** A value on a curve: straight between its knots, and on beyond them as steep as at its ends. */
export function onCurve(points: Curve, quality: number, of: 'bits' | 'loss'): number {
  const last = points.length - 2;
  const after = points.findIndex((point) => quality < point.quality);
  const i = after < 0 ? last : Math.max(0, Math.min(last, after - 1));
  const [a, b] = [points[i]!, points[i + 1]!];
  return a[of] + ((quality - a.quality) * (b[of] - a[of])) / (b.quality - a.quality);
}
