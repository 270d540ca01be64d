import type { Effort, PracticeSceneName } from '@mellow/model';
import { byScene, type SoftwareStandard } from './rateTables';

/** log2 of the bits at the lower and at the upper of two quality numbers (`offsetQualities`). */
type AtTwo = readonly [lower: number, upper: number];
interface EffortOffset {
  bits: Record<PracticeSceneName, AtTwo>;
  /** log2(1 - SSIM), mean over the scenes and numbers. */
  loss: number;
}
const none: EffortOffset = { bits: byScene<AtTwo>([0, 0], [0, 0], [0, 0]), loss: 0 };

export const offsetQualities: Record<SoftwareStandard, AtTwo> = {
  'avc-software': [20, 26],
  'hevc-software': [20, 26],
  'av1-software': [30, 40],
  'vp9-software': [30, 40],
};

/**
 * Against effort light at one quality number, by scene, since grain is kept by one effort and not by the next
 * (`npm run fit`); the two heaviest of HEVC and AV1 and the heaviest of AVC and VP9 are assumed from the rung below.
 */
export const effortOffsets: Record<SoftwareStandard, Record<Effort, EffortOffset>> = {
  'avc-software': {
    lightest: { bits: byScene<AtTwo>([0.18, 0.36], [0.09, 0.3], [-1.22, -0.11]), loss: 0.34 },
    light: none,
    middle: { bits: byScene<AtTwo>([-1.26, -0.98], [-0.75, -0.93], [-1.97, -0.97]), loss: 0.67 },
    thorough: { bits: byScene<AtTwo>([-1.26, -1.08], [-1.03, -1.18], [-2.27, -0.69]), loss: 0.45 },
    'most-thorough': { bits: byScene<AtTwo>([-1.31, -1.13], [-1.08, -1.23], [-2.32, -0.74]), loss: 0.4 },
  },
  'hevc-software': {
    lightest: { bits: byScene<AtTwo>([0.61, 0.3], [0.28, 0.02], [0.46, 0.25]), loss: 0.26 },
    light: none,
    middle: { bits: byScene<AtTwo>([0.37, 0.48], [0.22, 0.24], [0.96, -0.15]), loss: -0.44 },
    thorough: { bits: byScene<AtTwo>([0.34, 0.45], [0.19, 0.21], [0.93, -0.18]), loss: -0.5 },
    'most-thorough': { bits: byScene<AtTwo>([0.3, 0.41], [0.15, 0.17], [0.89, -0.22]), loss: -0.55 },
  },
  'av1-software': {
    lightest: { bits: byScene<AtTwo>([0.12, 0.07], [-0.04, -0.06], [0.61, 0.75]), loss: 0.09 },
    light: none,
    middle: { bits: byScene<AtTwo>([-0.06, -0.06], [-0.06, -0.06], [-0.06, -0.06]), loss: -0.1 },
    thorough: { bits: byScene<AtTwo>([-0.1, -0.1], [-0.1, -0.1], [-0.1, -0.1]), loss: -0.18 },
    'most-thorough': { bits: byScene<AtTwo>([-0.14, -0.14], [-0.14, -0.14], [-0.14, -0.14]), loss: -0.24 },
  },
  'vp9-software': {
    lightest: { bits: byScene<AtTwo>([0.15, 0.18], [0.08, 0.07], [0.66, 0.23]), loss: -0.01 },
    light: none,
    middle: { bits: byScene<AtTwo>([-0.27, -0.28], [-0.11, -0.02], [0.17, 0.16]), loss: -0.07 },
    thorough: { bits: byScene<AtTwo>([-0.88, -0.63], [-0.51, -0.4], [-0.8, 0]), loss: -0.18 },
    'most-thorough': { bits: byScene<AtTwo>([-0.98, -0.73], [-0.61, -0.5], [-0.9, -0.1]), loss: -0.23 },
  },
};

/** log2 of the bits against effort light: straight between the two numbers, and the same beyond them. */
export function effortBits(
  standard: SoftwareStandard,
  effort: Effort,
  kind: PracticeSceneName,
  quality: number,
): number {
  const [from, to] = offsetQualities[standard];
  const [lower, upper] = effortOffsets[standard][effort].bits[kind];
  return lower + (upper - lower) * Math.min(1, Math.max(0, (quality - from) / (to - from)));
}
