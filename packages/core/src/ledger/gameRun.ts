import type { GameRun } from '@mellow/model';
import { ascending, mean, percentileOfSorted } from '../units';

/** Under so many frames the slowest frames are shown instead of a 1 % low. */
export const leastFramesForOnePercentLow = 1000;

/**
 * A game's frame times as figures. Mean fps = frames / time;
 * 1 % low = 1000 / (99th percentile of the frame times in ms, linear interpolation).
 * @param frameTimesMs time from one presented frame to the next
 * @param leastForLow frames from which on a 1 % low is told
 */
export function gameRunOf(frameTimesMs: readonly number[], leastForLow = leastFramesForOnePercentLow): GameRun {
  const sorted = ascending(frameTimesMs);
  const meanMs = mean(sorted);
  return {
    seconds: (meanMs * sorted.length) / 1000,
    frames: sorted.length,
    meanFps: meanMs > 0 ? 1000 / meanMs : 0,
    onePercentLowFps: sorted.length >= leastForLow ? 1000 / percentileOfSorted(sorted, 0.99) : null,
    slowestMs: Array.from(sorted.slice(-5)).reverse(),
    blocks: blocksOf(frameTimesMs),
    turnBlocks: [],
  };
}

/** Several turns of a game as one run: the blocks of each stay its own. */
export function gameRunOfTurns(turnsMs: readonly (readonly number[])[]): GameRun {
  const turns = turnsMs.map((times) => gameRunOf(times)).filter(({ frames }) => frames > 0);
  return {
    ...gameRunOf(turnsMs.flat()),
    blocks: turns.flatMap(({ blocks }) => blocks),
    turnBlocks: turns.length > 1 ? turns.map(({ blocks }) => blocks.length) : [],
  };
}

/** Length of a block for resampling: longer than frames depend on one another, short enough to have many. */
const blockMs = 250;

/** Frames and their time by quarters of a second; what is left over at the end joins the last. */
function blocksOf(frameTimesMs: readonly number[]): GameRun['blocks'] {
  const blocks: { frames: number; ms: number }[] = [];
  let open = { frames: 0, ms: 0 };
  let elapsedMs = 0;
  for (const ms of frameTimesMs) {
    open = { frames: open.frames + 1, ms: open.ms + ms };
    elapsedMs += ms;
    if (elapsedMs < (blocks.length + 1) * blockMs) continue;
    blocks.push(open);
    open = { frames: 0, ms: 0 };
  }
  const last = blocks.at(-1);
  if (!open.frames) return blocks;
  if (!last) return [open];
  return [...blocks.slice(0, -1), { frames: last.frames + open.frames, ms: last.ms + open.ms }];
}

/** Play cost = 1 - with / without. */
export const playCostShare = (withFps: number, withoutFps: number): number =>
  withoutFps > 0 ? 1 - withFps / withoutFps : 0;
