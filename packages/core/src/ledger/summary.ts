import {
  causes,
  fates,
  stationNames,
  type FrameRate,
  type LedgerSummary,
  type SecondRow,
  type Station,
} from '@mellow/model';
import { ascending, mean, percentileOfSorted, periodUs } from '../units';
import { NEVER, type LedgerColumns } from './columns';
import { isFiled } from './identities';
import { longestHole } from './lossRuns';

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

/** A ledger in figures. */
export function summarise(columns: LedgerColumns, context: SummaryContext): LedgerSummary {
  const fateCounts = Object.fromEntries(fates.map((fate) => [fate, 0]));
  const causeCounts = Object.fromEntries(causes.map((cause) => [cause, 0]));
  let filed = 0;
  let filledRows = 0;
  const ages: number[] = [];
  let stillSince = 0;
  let longestStillUs = 0;
  const period = periodUs(context.rate);
  for (let n = 0; n < columns.length; n++) {
    const fate = fates[columns.fate[n] ?? 0] ?? 'pending';
    const cause = causes[columns.cause[n] ?? 0] ?? 'none';
    fateCounts[fate] = (fateCounts[fate] ?? 0) + 1;
    causeCounts[cause] = (causeCounts[cause] ?? 0) + 1;
    if (isFiled(columns, n)) filed++;
    if (columns.filled[n]) filledRows++;
    if (fate === 'new') {
      longestStillUs = Math.max(longestStillUs, (n - stillSince) * period);
      stillSince = n;
      if ((columns.source[n] ?? NEVER) !== NEVER) ages.push(-(columns.source[n] ?? 0) / 1000);
    }
  }
  longestStillUs = Math.max(longestStillUs, (columns.length - stillSince) * period);
  const lengthS = (columns.length * period) / 1e6;
  const sortedAges = ascending(ages);
  return {
    due: columns.length,
    fates: fateCounts,
    causes: causeCounts,
    filed,
    filledRows,
    tailFrames: context.tailFrames,
    longestHole: longestHole(columns),
    presented: context.presented,
    passedOver: context.passedOver,
    notReached: context.notReached,
    pacing: {
      newPerSecond: lengthS > 0 ? (fateCounts['new'] ?? 0) / lengthS : 0,
      longestStillMs: longestStillUs / 1000,
      filedFps: lengthS > 0 ? filed / lengthS : 0,
      sourceAgeMeanMs: ages.length ? mean(ages) : null,
      sourceAgeP99Ms: ages.length ? percentileOfSorted(sortedAges, 0.99) : null,
    },
    ...loadSummary(context),
  };
}

function loadSummary({ seconds, rate, cores }: SummaryContext) {
  const budgetMs = periodUs(rate) / 1000;
  const loads = Object.fromEntries(
    stationNames.map((station) => [station, loadFigure(seconds, station, station === 'drive' ? 1000 : budgetMs)]),
  ) as LedgerSummary['loads'];
  const withProcessor = seconds.flatMap((row) => (row.processor ? [row.processor] : []));
  const share = (of: 'game' | 'recorder' | 'others') => mean(withProcessor.map((p) => p[of])) / cores;
  const processor = withProcessor.length
    ? { gameShare: share('game'), recorderShare: share('recorder'), othersShare: share('others'), cores }
    : null;
  const waiting = seconds.flatMap((row) => (row.encodeWaitingS === null ? [] : [row.encodeWaitingS]));
  const lanes = seconds[0]?.lanePeakDbfs.length ?? 0;
  return {
    loads,
    processor,
    encodeWaitingShare: waiting.length ? mean(waiting) : null,
    disturbed: processor !== null && processor.othersShare > disturbedShare,
    bytesQueuedPeak: seconds.reduce((max, row) => Math.max(max, row.bytesQueued), 0),
    driveLatencyMsPeak: seconds.reduce((max, row) => Math.max(max, row.driveLatencyMs), 0),
    lanePeakDbfs: Array.from({ length: lanes }, (_, lane) =>
      seconds.reduce<number | null>((max, row) => {
        const peak = row.lanePeakDbfs[lane] ?? null;
        return peak === null ? max : max === null ? peak : Math.max(max, peak);
      }, null),
    ),
  };
}

/** Usual load: mean over the seconds; busiest 1 %: 99th percentile over the seconds of each second's busiest. */
function loadFigure(seconds: readonly SecondRow[], station: Station, budgetMs: number) {
  const means = seconds.flatMap((row) => row.load[station].meanMs ?? []);
  const busiest = seconds.flatMap((row) => row.load[station].busiestMs ?? []);
  if (!means.length || !busiest.length) return null;
  return { usualMs: mean(means), busiestMs: percentileOfSorted(ascending(busiest), 0.99), budgetMs };
}
