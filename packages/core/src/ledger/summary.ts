import {
  causes,
  fateCode,
  fates,
  stationNames,
  type FrameRate,
  type LedgerSummary,
  type SecondRow,
} from '@mellow/model';
import { createQuantileSketch, periodUs } from '../units';
import { NEVER, type LedgerColumns } from './columns';
import { isFiled } from './identities';
import { createLossCounter } from './lossRuns';

export interface SummaryContext {
  rate: FrameRate;
  seconds: readonly SecondRow[];
  cores: number;
  tailFrames: number;
  presented: number | null;
  passedOver: number | null;
  notReached: number | null;
}

/** Above this share of the machine used by other programs a trial is marked as disturbed. */
export const disturbedShare = 0.1;

export interface SummaryBuilder {
  row(columns: LedgerColumns, row: number): void;
  second(row: SecondRow): void;
  end(context: Omit<SummaryContext, 'seconds' | 'rate' | 'cores'>): LedgerSummary;
}

const countsOf = <Name extends string>(names: readonly Name[], counts: readonly number[]): Record<Name, number> =>
  Object.fromEntries(names.map((name, i) => [name, counts[i] ?? 0])) as Record<Name, number>;

/** A ledger in figures, counted row by row and second by second, in memory that does not grow with the take. */
export function createSummary(rate: FrameRate, cores: number): SummaryBuilder {
  const fateCounts = new Array<number>(fates.length).fill(0);
  const causeCounts = new Array<number>(causes.length).fill(0);
  const period = periodUs(rate);
  const ages = createQuantileSketch();
  const losses = createLossCounter(0);
  const loads = createLoadSummary(rate, cores);
  const newCode = fateCode('new');
  const repeatCode = fateCode('repeat');
  let rows = 0;
  let filed = 0;
  let filledRows = 0;
  /** Dues in a row in which the game certainly showed one picture: what is lost tells nothing of the game. */
  let stillRows = 0;
  let longestStillRows = 0;
  const steps = runningMean();
  /** Where the last row's new picture lay; null where it had none, or nobody knows. */
  let sourceBefore: number | null = null;
  return {
    second: loads.second,
    row(columns, row) {
      const n = rows++;
      const fate = columns.fate[row] ?? 0;
      fateCounts[fate] = (fateCounts[fate] ?? 0) + 1;
      const cause = columns.cause[row] ?? 0;
      causeCounts[cause] = (causeCounts[cause] ?? 0) + 1;
      losses.row(columns, row, n);
      if (isFiled(columns, row)) filed++;
      if (columns.filled[row]) filledRows++;
      stillRows = fate === newCode ? 1 : fate === repeatCode ? stillRows + 1 : 0;
      longestStillRows = Math.max(longestStillRows, stillRows);
      const source = fate === newCode ? (columns.source[row] ?? NEVER) : NEVER;
      const known = source === NEVER ? null : source;
      if (known !== null) ages.add(-known / 1000);
      // A step of game time is the file's period and what the age has changed by.
      if (known !== null && sourceBefore !== null) steps.add(((known - sourceBefore) / 1000) ** 2);
      sourceBefore = known;
    },
    end(context) {
      const lengthS = (rows * period) / 1e6;
      return {
        due: rows,
        fates: countsOf(fates, fateCounts),
        causes: countsOf(causes, causeCounts),
        filed,
        filledRows,
        tailFrames: context.tailFrames,
        longestHole: losses.longestHole(),
        presented: context.presented,
        passedOver: context.passedOver,
        notReached: context.notReached,
        pacing: {
          newPerSecond: lengthS > 0 ? (fateCounts[newCode] ?? 0) / lengthS : 0,
          longestStillMs: (longestStillRows * period) / 1000,
          filedFps: lengthS > 0 ? filed / lengthS : 0,
          sourceAgeMeanMs: ages.count() ? ages.mean() : null,
          sourceAgeP99Ms: ages.count() ? ages.percentile(0.99) : null,
          stepUnevenMs: steps.value() === null ? null : Math.sqrt(steps.value() ?? 0),
        },
        ...loads.end(),
      };
    },
  };
}

/** A whole ledger in figures. */
export function summarise(columns: LedgerColumns, context: SummaryContext): LedgerSummary {
  const builder = createSummary(context.rate, context.cores);
  for (let row = 0; row < columns.length; row++) builder.row(columns, row);
  context.seconds.forEach(builder.second);
  return builder.end(context);
}

/** Mean of a stream of values, each with its weight. */
function runningMean() {
  let count = 0;
  let sum = 0;
  return {
    add(value: number, weight = 1): void {
      count += weight;
      sum += value * weight;
    },
    value: (): number | null => (count ? sum / count : null),
  };
}

/** Usual load: mean over the frames of all seconds; busiest 1 %: 99th percentile over the seconds of each second's busiest. */
function createLoadSummary(rate: FrameRate, cores: number) {
  const budgetMs = periodUs(rate) / 1000;
  const stations = stationNames.map((station) => ({
    station,
    budgetMs: station === 'drive' ? 1000 : budgetMs,
    usual: runningMean(),
    busiest: createQuantileSketch(),
  }));
  const processor = { game: runningMean(), recorder: runningMean(), others: runningMean() };
  const waiting = runningMean();
  const lanePeakDbfs: (number | null)[] = [];
  let bytesQueuedPeak = 0;
  let driveLatencyMsPeak = 0;
  return {
    second(row: SecondRow): void {
      for (const { station, usual, busiest } of stations) {
        const { meanMs, busiestMs } = row.load[station];
        if (meanMs !== null) usual.add(meanMs, row.load[station].frames ?? 1);
        if (busiestMs !== null) busiest.add(busiestMs);
      }
      if (row.processor) {
        processor.game.add(row.processor.game);
        processor.recorder.add(row.processor.recorder);
        processor.others.add(row.processor.others);
      }
      if (row.encodeWaitingS !== null) waiting.add(row.encodeWaitingS);
      bytesQueuedPeak = Math.max(bytesQueuedPeak, row.bytesQueued);
      driveLatencyMsPeak = Math.max(driveLatencyMsPeak, row.driveLatencyMs);
      row.lanePeakDbfs.forEach((peak, lane) => {
        const before = lanePeakDbfs[lane] ?? null;
        lanePeakDbfs[lane] = peak === null || before === null ? (peak ?? before) : Math.max(before, peak);
      });
    },
    end() {
      const loads = Object.fromEntries(
        stations.map(({ station, usual, busiest, budgetMs: budget }) => {
          const usualMs = usual.value();
          if (usualMs === null || !busiest.count()) return [station, null];
          return [station, { usualMs, busiestMs: busiest.percentile(0.99), budgetMs: budget }];
        }),
      ) as LedgerSummary['loads'];
      const share = (mean: { value(): number | null }): number => (mean.value() ?? 0) / cores;
      const known = processor.others.value() !== null;
      const othersShare = share(processor.others);
      return {
        loads,
        processor: known
          ? { gameShare: share(processor.game), recorderShare: share(processor.recorder), othersShare, cores }
          : null,
        encodeWaitingShare: waiting.value(),
        disturbed: known && othersShare > disturbedShare,
        bytesQueuedPeak,
        driveLatencyMsPeak,
        lanePeakDbfs,
      };
    },
  };
}
