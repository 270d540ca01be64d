import type { Take } from '@mellow/model';

type Range = { value: number; low: number; high: number };

/** One take of the coverage run: each figure as foretold and as found; null where one of both is not there. */
export interface CoverageRow {
  name: string;
  figures: Record<CoverageFigure, { foretold: Range; found: number } | null>;
  /** Share of its frames the game lost, with its 90 % interval. */
  playCost: { foretold: Range; found: number; low: number; high: number } | null;
}

export const coverageFigures = ['size', 'encode', 'misses', 'ssim'] as const;
export type CoverageFigure = (typeof coverageFigures)[number];

export function coverageRowOf(name: string, take: Take): CoverageRow {
  const { prediction, summary, facts, likeness, playCost } = take;
  const pair = (foretold: Range | null | undefined, found: number | null | undefined) =>
    foretold && found !== null && found !== undefined ? { foretold, found } : null;
  const seconds = summary ? (summary.due * take.recipe.rate.den) / take.recipe.rate.num : 0;
  const lost = summary ? ((summary.due - summary.filed) * 60) / seconds : null;
  return {
    name,
    figures: {
      size: pair(prediction?.bitsPerSecond, facts && (facts.bytes * 8) / seconds),
      encode: pair(prediction?.encodeMs, summary?.loads.encode?.usualMs),
      misses: pair(prediction?.missesPerMinute, lost),
      ssim: pair(prediction?.ssim, likeness?.ssim),
    },
    playCost:
      prediction?.playCost && playCost
        ? {
            foretold: prediction.playCost,
            found: 1 - playCost.with.meanFps / playCost.without.meanFps,
            low: playCost.interval?.low ?? 0,
            high: playCost.interval?.high ?? 0,
          }
        : null,
  };
}

/** A miss a minute more or less than the range's ends is a tenth of a frame in a trial of six seconds: not told apart. */
const slack: Record<CoverageFigure, number> = { size: 0, encode: 0, misses: 0.1, ssim: 0 };

export const isInside = (figure: CoverageFigure, { foretold, found }: { foretold: Range; found: number }): boolean =>
  found >= foretold.low - slack[figure] && found <= foretold.high + slack[figure];

export interface Coverage {
  figure: CoverageFigure;
  rows: number;
  inside: number;
  /** Median of found / foretold. */
  medianRatio: number;
}

export function coverageOf(rows: readonly CoverageRow[]): Coverage[] {
  return coverageFigures.map((figure) => {
    const found = rows.flatMap((row) => row.figures[figure] ?? []);
    const ratios = found.flatMap(({ foretold, found: f }) => (foretold.value > 0 ? [f / foretold.value] : []));
    return {
      figure,
      rows: found.length,
      inside: found.filter((one) => isInside(figure, one)).length,
      medianRatio: ratios.toSorted((a, b) => a - b)[Math.floor(ratios.length / 2)] ?? NaN,
    };
  });
}

export interface PlayCostAgreement {
  /** Takes whose cost could be told from none, and of those the ones that were foretold to cost something. */
  told: number;
  sameSign: number;
  /** Share of all takes whose interval and foretold range have something in common. */
  overlaps: number;
  /** Spearman's rank correlation of foretold and found, over all takes; what could not be told from none counts as none. */
  rankCorrelation: number;
}

export function playCostAgreement(rows: readonly CoverageRow[]): PlayCostAgreement {
  const costs = rows.flatMap((row) => row.playCost ?? []);
  const isTold = ({ low, high }: (typeof costs)[number]): boolean => low > 0 || high < 0;
  const told = costs.filter(isTold);
  return {
    told: told.length,
    sameSign: told.filter(({ foretold, found }) => shownSign(foretold.value) === shownSign(found)).length,
    overlaps:
      costs.filter(({ foretold, low, high }) => low <= foretold.high && high >= foretold.low).length /
      Math.max(1, costs.length),
    rankCorrelation: spearman(
      costs.map((cost) => cost.foretold.value),
      // The order of what could not be told from none is chance.
      costs.map((cost) => (isTold(cost) ? cost.found : 0)),
    ),
  };
}

/** Sign of a share as it is shown, in tenths of a per cent: what is shown as 0.0 % was not foretold. */
const shownSign = (share: number): number => Math.sign(Math.round(share * 1000));

/** Ranks from 1 on; equal values share their mean rank. */
function ranksOf(values: readonly number[]): number[] {
  const sorted = values.toSorted((a, b) => a - b);
  return values.map((value) => (sorted.indexOf(value) + sorted.lastIndexOf(value)) / 2 + 1);
}

/** Pearson's correlation of the ranks (Spearman 1904). */
export function spearman(a: readonly number[], b: readonly number[]): number {
  const [ra, rb] = [ranksOf(a), ranksOf(b)];
  const middle = (a.length + 1) / 2;
  let [ab, aa, bb] = [0, 0, 0];
  ra.forEach((x, i) => {
    const y = rb[i] ?? middle;
    ab += (x - middle) * (y - middle);
    aa += (x - middle) ** 2;
    bb += (y - middle) ** 2;
  });
  return aa && bb ? ab / Math.sqrt(aa * bb) : 0;
}
