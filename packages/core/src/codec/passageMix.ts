import type { Passage, PracticeSceneName } from '@mellow/model';

/** Share of each kind of passage in a stretch of play; together 1. */
export interface PassageShares {
  calm: number;
  busy: number;
  loading: number;
}

export const evenShares: PassageShares = { calm: 0.5, busy: 0.5, loading: 0 };

/** Shares of a stretch of so many seconds, as a game goes through its passages again and again. */
export function sharesOf(passages: readonly Passage[], seconds: number): PassageShares {
  const spent: PassageShares = { calm: 0, busy: 0, loading: 0 };
  const all = passages.reduce((sum, passage) => sum + passage.seconds, 0);
  if (!(all > 0) || !(seconds > 0)) return evenShares;
  for (let left = seconds, i = 0; left > 1e-9; i++) {
    const { kind, seconds: each } = passages[i % passages.length]!;
    const now = Math.min(left, each);
    spent[kind] += now / seconds;
    left -= now;
  }
  return spent;
}

/**
 * Bits, and what is lost of the picture (1 - SSIM), in each kind of passage against the mean of a calm and a busy one, by
 * scene: geometric means over the rows of `npm run fit` (docs/model.md, "Rate and quality").
 */
export const passageFactors: Record<PracticeSceneName, Record<keyof PassageShares, { bits: number; loss: number }>> = {
  'paper-comets': {
    calm: { bits: 0.87, loss: 0.96 },
    busy: { bits: 1.12, loss: 1.04 },
    loading: { bits: 0.88, loss: 0.92 },
  },
  'harrow-vale': {
    calm: { bits: 0.36, loss: 0.45 },
    busy: { bits: 1.6, loss: 1.47 },
    loading: { bits: 0.01, loss: 0.001 },
  },
  'tin-cathedral': {
    calm: { bits: 1.05, loss: 1.02 },
    busy: { bits: 0.93, loss: 0.98 },
    loading: { bits: 0.016, loss: 0.001 },
  },
};

/** log2 of what a mix of passages comes to, against the mean of a calm and a busy one. */
export function mixLog2(kind: PracticeSceneName, shares: PassageShares, of: 'bits' | 'loss'): number {
  const factors = passageFactors[kind];
  const sum = shares.calm * factors.calm[of] + shares.busy * factors.busy[of] + shares.loading * factors.loading[of];
  return Math.log2(Math.max(0.005, sum));
}
