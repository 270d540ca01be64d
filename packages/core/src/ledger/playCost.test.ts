import type { GameRun } from '@mellow/model';
import { workFactors } from '../path';
import { gameRunOf, measuredPlayCost, playCostShare, playCostWords } from './index';

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
