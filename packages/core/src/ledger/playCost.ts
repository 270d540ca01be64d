import type { GameRun, PlayCost } from '@mellow/model';
import { ascending, formatPercent, mean, percentileOfSorted, randomStream, signed, studentTQuantile } from '../units';
import { playCostShare } from './gameRun';

const resamples = 2000;
/** Fewer blocks say nothing of how much they vary. */
const leastBlocks = 6;
const tail = 0.05;

/**
 * What recording cost the game, with a 90 % interval. Of several turns each is a level of its own, since a machine differs from one to
 * the next: `turnInterval`. Of one turn by the block bootstrap (Carlstein 1986; Efron and Tibshirani 1993, chapter 8.6): quarters
 * of a second of the same passages are drawn in pairs, without and with recording, as often as there are.
 */
export function measuredPlayCost(without: GameRun, recorded: GameRun, pairs: number): PlayCost {
  const turns = without.turnBlocks.length > 1 && without.turnBlocks.length === recorded.turnBlocks.length;
  return {
    ...{ without, with: recorded, pairs },
    interval: turns ? turnInterval(without, recorded) : intervalOf(without.blocks, recorded.blocks),
  };
}

/** Beyond so many degrees of freedom the t distribution is a normal one. */
const mostFreedom = 200;
/** Longer frames by a factor are fewer a second by its reciprocal. */
const costOfLog = (log: number): number => 1 - Math.exp(-log);

type Blocks = GameRun['blocks'];

/** Log of the mean frame time of a turn, and the variance of that by its blocks (ratio estimator; Cochran 1977, chapter 6). */
function turnFigure(blocks: Blocks): { log: number; variance: number } {
  const frames = blocks.reduce((sum, block) => sum + block.frames, 0);
  const ms = blocks.reduce((sum, block) => sum + block.ms, 0);
  const mean = ms / Math.max(1, frames);
  const squares = blocks.reduce((sum, block) => sum + (block.ms - mean * block.frames) ** 2, 0);
  const count = blocks.length;
  return { log: Math.log(mean), variance: count > 1 ? (squares * count) / (count - 1) / ms ** 2 : 0 };
}

/**
 * 90 % interval of the cost over turns: the variance of a pair of turns is the larger of what its blocks show within them and what the
 * pairs differ by, with degrees of freedom by how much of it only the few pairs tell (after Satterthwaite 1946). Covers 86 to 92 % with
 * 0, 2 and 5 % of noise from turn to turn, four turns of 1.5 s (`playCost.test.ts`).
 */
function turnInterval(without: GameRun, recorded: GameRun): PlayCost['interval'] {
  const turnsOf = ({ blocks, turnBlocks }: GameRun): Blocks[] => {
    let at = 0;
    return turnBlocks.map((count) => blocks.slice(at, (at += count)));
  };
  const [alone, during] = [turnsOf(without).map(turnFigure), turnsOf(recorded).map(turnFigure)];
  const ratios = during.map(({ log }, i) => log - (alone[i]?.log ?? log));
  const count = ratios.length;
  const within = mean([...alone, ...during].map(({ variance }) => variance)) * 2;
  const middle = mean(ratios);
  const between = ratios.reduce((sum, ratio) => sum + (ratio - middle) ** 2, 0) / (count - 1);
  const variance = Math.max(within, between);
  if (!(variance > 0)) return { low: costOfLog(middle), high: costOfLog(middle) };
  const onlyPairs = 1 - within / variance;
  const freedom = Math.min(mostFreedom, (count - 1) / Math.max(onlyPairs ** 2, (count - 1) / mostFreedom));
  const half = studentTQuantile(1 - tail, freedom) * Math.sqrt(variance / count);
  return { low: costOfLog(middle - half), high: costOfLog(middle + half) };
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
