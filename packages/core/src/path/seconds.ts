import { stationNames, type SecondRow, type Station, type StationLoad } from '@mellow/model';
import { NEVER } from '../ledger';
import { ascending, mean, percentileOfSorted } from '../units';
import type { PathParameters } from './parameters';
import type { PathRun } from './simulate';

/** A load of many frames as one second shows it; null without any. */
const figures = (valuesMs: readonly number[]): StationLoad =>
  valuesMs.length
    ? { meanMs: mean(valuesMs), busiestMs: percentileOfSorted(ascending(valuesMs), 0.99), frames: valuesMs.length }
    : { meanMs: null, busiestMs: null };

/** A stall is no load: the game stands still by itself. */
const stallMs = 250;

/** One row a second of a simulated run, with the columns that a measured one has; nothing is known of sound levels. */
export function secondRowsOf(run: PathRun, p: PathParameters): SecondRow[] {
  const { columns } = run;
  const fps = p.rate.num / p.rate.den;
  const seconds = Math.max(1, Math.ceil(columns.length / fps));
  const units = p.encode.parallelism ?? 1;
  const lengthS = run.endUs / 1e6;
  return Array.from({ length: seconds }, (_, second): SecondRow => {
    const lists: Record<Exclude<Station, 'drive'>, number[]> = {
      game: [],
      capture: [],
      size: [],
      encode: [],
      pack: [],
    };
    const from = Math.round(second * fps);
    const to = Math.min(columns.length, Math.round((second + 1) * fps));
    let bytes = 0;
    for (let n = from; n < to; n++) {
      if (columns.captured[n]! > NEVER && columns.picked[n]! > NEVER)
        lists.capture.push((columns.captured[n]! - columns.picked[n]!) / 1000);
      if (run.sizeWorkUs[n]! > 0) lists.size.push(run.sizeWorkUs[n]! / 1000);
      if (run.encodeWorkUs[n]! > 0) {
        lists.encode.push(run.encodeWorkUs[n]! / units / 1000);
        lists.pack.push(p.packUs / 1000);
        bytes += Math.max(0, columns.bytes[n]!);
      }
    }
    let slowestMs: number | null = null;
    for (let i = 1; i < run.presentsUs.length; i++) {
      const at = run.presentsUs[i]!;
      if (at < second * 1e6 || at >= (second + 1) * 1e6) continue;
      const ms = (at - run.presentsUs[i - 1]!) / 1000;
      slowestMs = Math.max(slowestMs ?? 0, ms);
      if (ms < stallMs) lists.game.push(ms);
    }
    const driveMs = run.driveBusyUs / 1000 / lengthS;
    const load = Object.fromEntries(
      stationNames.map((name) => [
        name,
        name === 'drive' ? { meanMs: driveMs, busiestMs: driveMs } : figures(lists[name]),
      ]),
    ) as SecondRow['load'];
    return {
      second,
      due: to,
      load,
      processor: {
        game: run.gameProcessorUs / run.endUs,
        recorder: run.recorderProcessorUs / run.endUs,
        others: p.othersCores,
        pressureShare: null,
      },
      encodeWaitingS: null,
      bytesWritten: bytes + p.soundBytesPerSecond,
      bytesQueued: run.bytesQueuedPeak,
      driveLatencyMs: driveMs,
      lanePeakDbfs: [],
      game: { frames: lists.game.length, meanMs: lists.game.length ? mean(lists.game) : null, slowestMs },
    };
  });
}
