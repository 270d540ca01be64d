import {
  causeStation,
  type Cause,
  type FrameRate,
  type LedgerSummary,
  type LossRun,
  type Station,
} from '@mellow/model';
import { stationWords } from '../recipe/words';
import {
  ascending,
  formatCount,
  formatDuration,
  formatSeconds,
  framesPerSecond,
  listWords,
  percentileOfSorted,
} from '../units';

/** Losses per station of a ledger's causes. */
export function lossesByStation(causes: Readonly<Record<string, number>>): Map<Station, number> {
  const losses = new Map<Station, number>();
  for (const [cause, count] of Object.entries(causes)) {
    const station = causeStation[cause as Cause];
    if (station && station !== 'game' && count > 0) losses.set(station, (losses.get(station) ?? 0) + count);
  }
  return losses;
}

/** Lost frames in a row, whatever their causes. */
interface Hole {
  due: number;
  frames: number;
}

/** One long hole, a hiccup that comes again and again, or neither. */
export type LossShape =
  | { kind: 'hole'; frames: number; atUs: number }
  | { kind: 'hiccups'; everyS: number; count: number }
  | { kind: 'scattered' };

/** A hole is told by itself from so long on, where it holds at least half of what was lost. */
const toldHoleS = 0.25;
const leastHiccups = 5;
/** Losses closer than this are those of a station that is too slow for every frame. */
const leastBetweenS = 0.3;
/** Of the times between hiccups so many lie within so much of their median. */
const regularShare = 0.8;
const regularWithin = 0.15;

function holesOf(runs: readonly LossRun[]): Hole[] {
  const holes: Hole[] = [];
  for (const { due, frames } of runs) {
    const last = holes.at(-1);
    if (last && last.due + last.frames === due) last.frames += frames;
    else holes.push({ due, frames });
  }
  return holes;
}

/** How the losses of a take lie in its time: runs stand in order, up to 2 000 of them. */
export function lossShape(runs: readonly LossRun[], lost: number, rate: FrameRate): LossShape {
  const fps = framesPerSecond(rate);
  const holes = holesOf(runs);
  const longest = holes.reduce<Hole | null>((most, hole) => (most && most.frames >= hole.frames ? most : hole), null);
  if (longest && longest.frames >= toldHoleS * fps && longest.frames * 2 >= lost)
    return { kind: 'hole', frames: longest.frames, atUs: (longest.due / fps) * 1e6 };
  const between = holes.slice(1).map((hole, i) => (hole.due - (holes[i]?.due ?? 0)) / fps);
  const usual = between.length ? percentileOfSorted(ascending(between), 0.5) : 0;
  const near = between.filter((s) => Math.abs(s - usual) <= usual * regularWithin).length;
  if (holes.length >= leastHiccups && usual >= leastBetweenS && near >= between.length * regularShare)
    return { kind: 'hiccups', everyS: usual, count: holes.length };
  return { kind: 'scattered' };
}

/** "Of 600 frames 9 were lost: 6 at Encode and 3 at Capture." */
export function lostSentence(summary: LedgerSummary, runs: readonly LossRun[], rate: FrameRate): string {
  const lost = summary.due - summary.filed;
  const where = [...lossesByStation(summary.causes)].sort((a, b) => b[1] - a[1]);
  const at = listWords(where.map(([station, n]) => `${formatCount(n)} at ${stationWords[station]}`));
  const shape = lossShape(runs, lost, rate);
  const how =
    shape.kind === 'hole'
      ? `, ${shape.frames === lost ? 'all' : formatCount(shape.frames)} in one hole of ${formatSeconds(shape.frames / framesPerSecond(rate))} at ${formatDuration(shape.atUs / 1e6)}`
      : shape.kind === 'hiccups'
        ? `, in ${formatCount(shape.count)} hiccups, one every ${shape.everyS.toFixed(1)} s`
        : '';
  return `Of ${formatCount(summary.due)} frames ${lost === 1 ? '1 was' : `${formatCount(lost)} were`} lost${how}: ${at}.`;
}
