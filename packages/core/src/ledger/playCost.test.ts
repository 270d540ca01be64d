import type { GameRun } from '@mellow/model';
import { workFactors } from '../path';
import { normalQuantile, randomStream } from '../units';
import { gameRunOf, gameRunOfTurns, measuredPlayCost, playCostShare, playCostWords } from './index';

const plain = (text: string) => text.replaceAll('\u2009', ' ');

/** Frame times of some seconds: passages that both runs share, and noise of each run with neighbours alike. */
function frameTimes(seconds: number, meanMs: number, seed: number): number[] {
  const noise = workFactors(seed, 4000, 0.12, 0.6);
  const times: number[] = [];
  for (let at = 0, n = 0; at < seconds * 1000; n++) {
    const passage = 1 + 0.25 * Math.sin(at / 700);
    const ms = meanMs * passage * (noise[n] ?? 1);
    times.push(ms);
    at += ms;
  }
  return times;
}
const pair = (cost: number, seed: number): [GameRun, GameRun] => [
  gameRunOf(frameTimes(6, 8, seed)),
  gameRunOf(frameTimes(6, 8 / (1 - cost), seed + 50_000)),
];

describe('blocks of a run', () => {
  it('are quarters of a second and hold every frame and all of the time', () => {
    const times = frameTimes(3, 8, 1);
    const { blocks, frames, seconds } = gameRunOf(times);
    expect(blocks).toHaveLength(12);
    expect(blocks.reduce((sum, b) => sum + b.frames, 0)).toBe(frames);
    expect(blocks.reduce((sum, b) => sum + b.ms, 0) / 1000).toBeCloseTo(seconds, 9);
  });
  it('are none of nothing and one of a moment', () => {
    expect(gameRunOf([]).blocks).toEqual([]);
    expect(gameRunOf([8, 8]).blocks).toEqual([{ frames: 2, ms: 16 }]);
  });
});

describe('the interval of play cost', () => {
  it('holds the true cost in about 90 of 100 trials', () => {
    const cost = 0.06;
    const trials = 200;
    let held = 0;
    for (let t = 0; t < trials; t++) {
      const { interval } = measuredPlayCost(...pair(cost, 100 * t), 2);
      if (interval && interval.low <= cost && cost <= interval.high) held++;
    }
    expect(held / trials).toBeGreaterThan(0.82);
    expect(held / trials).toBeLessThan(0.97);
  });
  it('is the same for the same frame times, and holds the share itself', () => {
    const cost = measuredPlayCost(...pair(0.08, 5), 2);
    expect(measuredPlayCost(...pair(0.08, 5), 2)).toEqual(cost);
    const share = playCostShare(cost.with.meanFps, cost.without.meanFps);
    expect(cost.interval!.low).toBeLessThan(share);
    expect(cost.interval!.high).toBeGreaterThan(share);
  });
  it('is narrower with more turns', () => {
    const width = (seconds: number): number => {
      const [a, b] = [frameTimes(seconds, 8, 3), frameTimes(seconds, 8.5, 90_003)];
      const { interval } = measuredPlayCost(gameRunOf(a), gameRunOf(b), 2);
      return interval!.high - interval!.low;
    };
    expect(width(12)).toBeLessThan(width(3));
  });
  it('is not there for runs too short to tell', () => {
    expect(measuredPlayCost(gameRunOf([8, 8, 8]), gameRunOf([9, 9, 9]), 1).interval).toBeNull();
  });
});

describe('the interval of turns', () => {
  /** Turns of 1.5 s of one game: frames lean on the one before (0.7), and the machine is a little faster or slower in each turn. */
  function turns(count: number, turnSpread: number, random: () => number): number[][] {
    const normal = () => normalQuantile(Math.min(1 - 1e-6, Math.max(1e-6, random())));
    return Array.from({ length: count }, () => {
      const factor = Math.exp(turnSpread * normal());
      const times: number[] = [];
      let x = normal();
      for (let ms = 0; ms < 1500; ms += times.at(-1) ?? 0) {
        x = 0.7 * x + Math.sqrt(1 - 0.49) * normal();
        times.push(8 * factor * Math.exp(0.2 * x - 0.02));
      }
      return times;
    });
  }
  it.each([0, 0.02, 0.05])('covers 85 to 95 of 100 with a spread of %d from turn to turn', (spread) => {
    const random = randomStream(11);
    const runs = 400;
    let covered = 0;
    let claimed = 0;
    for (let i = 0; i < runs; i++) {
      const { interval } = measuredPlayCost(
        gameRunOfTurns(turns(4, spread, random)),
        gameRunOfTurns(turns(4, spread, random)),
        4,
      );
      if (interval!.low <= 0 && interval!.high >= 0) covered++;
      if (interval!.low > 0) claimed++;
    }
    expect(covered / runs).toBeGreaterThanOrEqual(0.83);
    expect(covered / runs).toBeLessThanOrEqual(0.97);
    // A cost where there is none is claimed about as often as one in ten, at the worst.
    expect(claimed / runs).toBeLessThan(0.1);
  });
  it('is around the cost that there is, and as sharp as the frames where turns are alike', () => {
    const even = (ms: number): number[][] => Array.from({ length: 4 }, () => Array<number>(200).fill(ms));
    const { interval } = measuredPlayCost(gameRunOfTurns(even(8)), gameRunOfTurns(even(10)), 4);
    expect(interval!.low).toBeCloseTo(0.2, 9);
    expect(interval!.high).toBeCloseTo(0.2, 9);
  });
  it('keeps every block in its turn, and leaves out a turn of nothing', () => {
    const run = gameRunOfTurns([[100, 100, 100], [], [100, 100]]);
    expect(run.turnBlocks).toEqual([1, 1]);
    expect(run.blocks).toEqual([
      { frames: 3, ms: 300 },
      { frames: 2, ms: 200 },
    ]);
    expect(run.frames).toBe(5);
  });
});

describe('play cost in words', () => {
  const told = (low: number, high: number) => {
    const words = playCostWords({ ...measuredPlayCost(...pair(0.06, 1), 2), interval: { low, high } });
    return [plain(words.figure), plain(words.range)];
  };
  it('is a figure with its interval where it was measured', () => {
    const [figure, range] = told(0.041, 0.075);
    expect(figure).toMatch(/^−\d\.\d %$/);
    expect(range).toBe('−7.5 to −4.1');
  });
  it('is an upper end where the interval contains nothing', () => {
    expect(told(-0.004, 0.012)).toEqual(['below 1.2 %', 'nothing could be measured']);
    expect(told(-0.02, -0.01)).toEqual(['nothing', 'nothing could be measured']);
  });
  it('is the plain figure where no interval is known', () => {
    const cost = { ...measuredPlayCost(...pair(0.06, 1), 1), interval: null };
    expect(playCostWords(cost).range).toBe('');
  });
});
