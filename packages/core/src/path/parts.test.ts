import * as fc from 'fast-check';
import { createSharedResource, driveStalls, normalStream, sceneAt, streamSeed, workFactors } from './index';

const meanOf = (values: ArrayLike<number>): number => Array.from(values).reduce((sum, v) => sum + v, 0) / values.length;

describe('a shared resource', () => {
  it('is filled like water: who wants little gets it, the rest is shared by weight, and never more than there is', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 16 }),
        fc.array(fc.record({ most: fc.integer({ min: 1, max: 16 }), weight: fc.integer({ min: 1, max: 4 }) }), {
          minLength: 1,
          maxLength: 6,
        }),
        (capacity, jobs) => {
          const resource = createSharedResource(capacity, jobs.length);
          jobs.forEach(({ most, weight }, j) => resource.start(j, Infinity, most, weight));
          resource.advance(1000);
          const rates = jobs.map((_, j) => resource.received(j) / 1000);
          const sum = rates.reduce((a, b) => a + b, 0);
          expect(sum).toBeLessThanOrEqual(capacity + 1e-9);
          expect(sum).toBeCloseTo(
            Math.min(
              capacity,
              jobs.reduce((a, { most }) => a + most, 0),
            ),
            6,
          );
          rates.forEach((rate, j) => expect(rate).toBeLessThanOrEqual(jobs[j]!.most + 1e-9));
          // Two that are held back by the capacity get shares by their weights.
          const held = rates
            .map((rate, j) => ({ level: rate / jobs[j]!.weight, free: rate < jobs[j]!.most - 1e-9 }))
            .filter((j) => j.free);
          held.forEach((j) => expect(j.level).toBeCloseTo(held[0]!.level, 6));
        },
      ),
    );
  });
  it('ends jobs in order: two of one core on one core take twice as long, and the second goes on faster when the first is done', () => {
    const resource = createSharedResource(1, 2);
    resource.start(0, 100, 1, 1);
    resource.start(1, 300, 1, 1);
    expect([resource.untilNext(), resource.nextJob()]).toEqual([200, 0]);
    resource.advance(200);
    resource.stop(0);
    expect(resource.untilNext()).toBeCloseTo(200, 9);
    expect([resource.active(0), resource.active(1)]).toEqual([false, true]);
  });
});

describe('draws', () => {
  it('are normal: mean 0, deviation 1, and the same for one seed', () => {
    const normal = normalStream(12);
    const values = Array.from({ length: 40_000 }, normal);
    expect(meanOf(values)).toBeCloseTo(0, 1);
    expect(Math.sqrt(meanOf(values.map((v) => v * v)))).toBeCloseTo(1, 1);
    expect(Array.from({ length: 5 }, normalStream(12))).toEqual(values.slice(0, 5));
  });
  it('of work have mean 1, the asked spread, and the asked correlation of neighbours', () => {
    const factors = workFactors(5, 60_000, 0.3, 0.7);
    expect(meanOf(factors)).toBeCloseTo(1, 1);
    const spread = Math.sqrt(meanOf(Array.from(factors, (f) => (f - 1) ** 2)));
    expect(spread).toBeGreaterThan(0.28);
    expect(spread).toBeLessThan(0.32);
    const logs = Array.from(factors, Math.log);
    const mean = meanOf(logs);
    const correlation =
      meanOf(logs.slice(1).map((v, i) => (v - mean) * (logs[i]! - mean))) / meanOf(logs.map((v) => (v - mean) ** 2));
    expect(correlation).toBeCloseTo(0.7, 1);
    expect(Array.from(workFactors(5, 3, 0, 0.7))).toEqual([1, 1, 1]);
  });
  it('have a stream each, apart for every station', () => {
    const seeds = (['game', 'encode', 'drive', 'wake', 'bytes', 'present'] as const).map((stream) =>
      streamSeed(9, stream),
    );
    expect(new Set(seeds).size).toBe(6);
    expect(streamSeed(10, 'game')).not.toBe(streamSeed(9, 'present'));
  });
  it('of a standing drive come as often and last as long as asked', () => {
    const stalls = driveStalls(3, 4000e6, 0.5, 40_000, 0.6);
    expect(stalls.length / 4000).toBeGreaterThan(0.45);
    expect(stalls.length / 4000).toBeLessThan(0.55);
    const lengths = stalls.map(([from, to]) => to - from).sort((a, b) => a - b);
    expect(lengths[lengths.length >> 1]! / 40_000).toBeCloseTo(1, 1);
    stalls.slice(1).forEach(([from], i) => expect(from).toBeGreaterThan(stalls[i]![1]));
    expect(driveStalls(3, 1e9, 0, 1, 1)).toEqual([]);
  });
});

it('the scene of a moment is the one it falls into, and the last goes on', () => {
  const scenes = [
    { kind: 'calm' as const, fromUs: 0, toUs: 10, gameFactor: 1, encodeFactor: 1 },
    { kind: 'busy' as const, fromUs: 10, toUs: 20, gameFactor: 1, encodeFactor: 1 },
  ];
  expect([0, 9, 10, 19, 500].map((us) => sceneAt(scenes, us)?.kind)).toEqual(['calm', 'calm', 'busy', 'busy', 'busy']);
  expect(sceneAt([], 5)).toBeNull();
});
