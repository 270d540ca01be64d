import type { GameRun, PlayCost } from '@mellow/model';
import { ascending, formatPercent, percentileOfSorted, randomStream, signed } from '../units';
import { playCostShare } from './gameRun';

const resamples = 2000;
/** Fewer blocks say nothing of how much they vary. */
const leastBlocks = 6;
const tail = 0.05;

/**
 * What recording cost the game, with a 90 % interval by the block bootstrap (Carlstein 1986; Efron and Tibshirani 1993,
 * chapter 8.6): quarters of a second of the same passages are drawn in pairs, without and with recording, as often as there
 * are, and the cost is computed of each draw. Blocks keep neighbouring frames together, pairs keep the passage.
 */
export function measuredPlayCost(without: GameRun, recorded: GameRun, pairs: number): PlayCost {
  return { without, with: recorded, pairs, interval: intervalOf(without.blocks, recorded.blocks) };
}

function intervalOf(without: GameRun['blocks'], recorded: GameRun['blocks']): PlayCost['interval'] {
  const count = Math.min(without.length, recorded.length);
  if (count < leastBlocks) return null;
  const random = randomStream(7);
  const costs = new Float64Array(resamples);
  for (let r = 0; r < resamples; r++) {
    let [framesA, msA, framesB, msB] = [0, 0, 0, 0];
    for (let i = 0; i < count; i++) {
      const at = Math.floor(random() * count);
      framesA += without[at]!.frames;
      msA += without[at]!.ms;
      framesB += recorded[at]!.frames;
      msB += recorded[at]!.ms;
    }
    costs[r] = playCostShare(framesB / msB, framesA / msA);
  }
  const sorted = ascending(costs);
  return { low: percentileOfSorted(sorted, tail), high: percentileOfSorted(sorted, 1 - tail) };
}

/** Play cost in words: "−4.1 % (−5.0 to −3.3)", or that nothing could be measured where 0 lies inside. */
export function playCostWords(cost: PlayCost): { figure: string; range: string } {
  const share = playCostShare(cost.with.meanFps, cost.without.meanFps);
  if (!cost.interval) return { figure: `${signed(-share * 100, 1)} %`, range: '' };
  const { low, high } = cost.interval;
  if (low <= 0)
    return {
      figure: high <= 0 ? 'nothing' : `below ${formatPercent(Math.max(high, 0.001))}`,
      range: 'nothing could be measured',
    };
  return { figure: `${signed(-share * 100, 1)} %`, range: `${signed(-high * 100, 1)} to ${signed(-low * 100, 1)}` };
}
