import type { Effort, EncoderName, PracticeSceneName } from '@mellow/model';

/**
 * What encoders made of the three practice scenes: 1 to 2 s each of a calm and a busy passage and half as much of loading, driven, at
 * 1280x720 and 60 fps, effort light, no B-frames, a key picture every 2 s, another draw for each row (`npm run fit`; docs/model.md,
 * "Rate and quality"). By quality number: log2 of the bits a pixel and frame, and log2(1 - SSIM of luma), of the means of calm and busy.
 */
export interface Knot {
  quality: number;
  bits: number;
  loss: number;
}
type Curve = readonly Knot[];

const curve = (...points: readonly (readonly [quality: number, bits: number, loss: number])[]): Curve =>
  points.map(([quality, bits, loss]) => ({ quality, bits, loss }));

export type SoftwareStandard = 'avc-software' | 'hevc-software' | 'av1-software' | 'vp9-software';

/** A value for each scene, in the order in which the games are listed. */
export const byScene = <T>(paperComets: T, harrowVale: T, tinCathedral: T): Record<PracticeSceneName, T> => ({
  'paper-comets': paperComets,
  'harrow-vale': harrowVale,
  'tin-cathedral': tinCathedral,
});

export const measuredCurves: Record<SoftwareStandard, Record<PracticeSceneName, Curve>> = {
  'avc-software': {
    'paper-comets': curve([14, -2.84, -8.86], [20, -3.5, -7.04], [26, -4.57, -5.14], [32, -5.43, -4.2]),
    'harrow-vale': curve([14, -1.49, -7.14], [20, -2.06, -5.23], [26, -3.02, -3.93], [32, -4.22, -2.82]),
    'tin-cathedral': curve([14, 0.51, -5.26], [20, -1.35, -3.67], [26, -4.24, -3.06], [32, -5.76, -2.74]),
  },
  'hevc-software': {
    'paper-comets': curve([14, -3.61, -6.67], [20, -4.67, -4.8], [26, -5.7, -3.99], [32, -6.65, -3.66]),
    'harrow-vale': curve([14, -1.64, -5.41], [20, -2.61, -4.05], [26, -3.71, -3], [32, -5.46, -2.35]),
    'tin-cathedral': curve([14, -1.68, -3.54], [20, -4.39, -3.2], [26, -5.46, -3.1], [32, -6.35, -2.63]),
  },
  'av1-software': {
    'paper-comets': curve([20, -4.42, -6.95], [30, -5.23, -5.97], [40, -6.26, -4.71], [50, -7.25, -4.26]),
    'harrow-vale': curve([20, -1.64, -5.19], [30, -2.77, -4.47], [40, -3.99, -3.69], [50, -5.6, -2.83]),
    'tin-cathedral': curve([20, -2.68, -3.41], [30, -4.88, -3.23], [40, -5.66, -3.15], [50, -6.65, -3.11]),
  },
  'vp9-software': {
    'paper-comets': curve([20, -2.91, -5.64], [30, -3.97, -4.85], [40, -5.12, -4.18], [50, -5.84, -3.8]),
    'harrow-vale': curve([20, -1.54, -5.14], [30, -2.31, -4.04], [40, -3.44, -3.31], [50, -4.66, -2.47]),
    'tin-cathedral': curve([20, -1.13, -3.63], [30, -3.14, -3.28], [40, -4.83, -3.15], [50, -5.13, -3.04]),
  },
};

/** log2 of bits a pixel, by scene, and of 1 - SSIM for each doubling of the pixels; against 1280x720. */
export const perPixelDoubling: Record<SoftwareStandard, { bits: Record<PracticeSceneName, number>; loss: number }> = {
  'avc-software': { bits: byScene(-0.49, -0.32, 0.12), loss: -0.15 },
  'hevc-software': { bits: byScene(-0.46, -0.35, -0.49), loss: -0.05 },
  'av1-software': { bits: byScene(-0.56, -0.27, -0.8), loss: 0 },
  'vp9-software': { bits: byScene(-0.57, -0.46, -0.4), loss: -0.02 },
};

/** The same for each doubling of the frame rate, against 60 fps: bits by scene, since grain repeats nothing from frame to frame. */
export const perRateDoubling = byScene(-0.57, -0.47, -1.2);
export const rateDoublingOf: Record<SoftwareStandard, { bits: number; loss: number }> = {
  'avc-software': { bits: 1, loss: 0.38 },
  'hevc-software': { bits: 1.25, loss: 0.34 },
  'av1-software': { bits: 0.6, loss: 0 },
  'vp9-software': { bits: 0.5, loss: 0.06 },
};

/**
 * Ten seconds of real play against the rows, whose passages begin anew each second or two, and what scaling down does to fine
 * detail, for each doubling of the game's pixels over the file's: by trials (`npm run fit:trials`), means by scene.
 */
const byStandard = (avc: number, hevc: number, av1: number): Record<SoftwareStandard, number> => ({
  'avc-software': avc,
  'hevc-software': hevc,
  'av1-software': av1,
  'vp9-software': av1,
});
export const inPlay: Record<PracticeSceneName, { bits: number; loss: number }> = {
  'paper-comets': { bits: -0.28, loss: 0.05 },
  'harrow-vale': { bits: -0.6, loss: -0.75 },
  'tin-cathedral': { bits: -0.35, loss: -0.05 },
};
export const scaledDown: Record<PracticeSceneName, { bits: Record<SoftwareStandard, number>; loss: number }> = {
  'paper-comets': { bits: byStandard(0, 0, 0), loss: 0 },
  'harrow-vale': { bits: byStandard(-0.25, -1, -0.8), loss: -0.1 },
  'tin-cathedral': { bits: byStandard(0.65, -0.3, -1.3), loss: -0.75 },
};

/** At a constant quantiser against constant quality of the same number, means over the scenes (`npm run fit`). */
export const quantiserOffsets: Record<SoftwareStandard, { bits: number; loss: number }> = {
  'avc-software': { bits: 0.26, loss: 0.15 },
  'hevc-software': { bits: 1.55, loss: -0.77 },
  'av1-software': { bits: 0.29, loss: 0.14 },
  'vp9-software': { bits: -0.63, loss: 0.46 },
};

/** Blocks are put on the curve of their standard in software, with more loss at one number; assumed, none was at hand. */
export const curveOf: Partial<
  Record<EncoderName, { as: SoftwareStandard; bits: number; loss: number; spread: number }>
> = {
  'avc-software': { as: 'avc-software', bits: 0, loss: 0, spread: 0 },
  'hevc-software': { as: 'hevc-software', bits: 0, loss: 0, spread: 0 },
  'av1-software': { as: 'av1-software', bits: 0, loss: 0, spread: 0 },
  'vp9-software': { as: 'vp9-software', bits: 0, loss: 0, spread: 0 },
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
