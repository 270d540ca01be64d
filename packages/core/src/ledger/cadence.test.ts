import * as fc from 'fast-check';
import { cadenceOf, slowMotionFactor } from './index';

const rate = (num: number, den = 1) => ({ num, den });
const anyRate = fc.constantFrom(
  rate(24_000, 1001),
  rate(24),
  rate(25),
  rate(30_000, 1001),
  rate(30),
  rate(50),
  rate(60_000, 1001),
  rate(60),
  rate(120),
  rate(240),
);

// That the pattern itself is FFmpeg's is checked in engine/matrix/againstTools.matrix.ts.
describe('cadence', () => {
  it('of the pairs people know: 24 at 60 is 2:3, 25 at 50 doubles, 60 at 30 drops every other', () => {
    const runs = (shows: number[]) => [...new Set(shows)].map((frame) => shows.filter((f) => f === frame).length);
    expect(runs(cadenceOf(rate(24), rate(60)).shows)).toEqual(expect.arrayContaining([2, 3]));
    expect(cadenceOf(rate(24), rate(60))).toMatchObject({ sourceFrames: 2, outputFrames: 5, repeat: 3, vanish: 0 });
    expect(cadenceOf(rate(25), rate(50))).toMatchObject({ sourceFrames: 1, outputFrames: 2, repeat: 1, vanish: 0 });
    expect(cadenceOf(rate(60), rate(30))).toMatchObject({
      sourceFrames: 2,
      outputFrames: 1,
      repeat: 0,
      vanish: 1,
      unevenMs: 0,
    });
    // One frame in 1001.
    expect(cadenceOf(rate(30), rate(30_000, 1001))).toMatchObject({
      sourceFrames: 1001,
      outputFrames: 1000,
      vanish: 1,
      repeat: 0,
    });
  });
  it('shows frames in order, every one or none of the rest, and equal rates evenly', () => {
    fc.assert(
      fc.property(anyRate, anyRate, (from, to) => {
        const { shows, sourceFrames, outputFrames, vanish, repeat, unevenMs } = cadenceOf(from, to);
        shows.slice(1).forEach((frame, i) => expect(frame).toBeGreaterThanOrEqual(shows[i]!));
        expect(sourceFrames / outputFrames).toBeCloseTo((from.num * to.den) / (from.den * to.num), 9);
        expect(unevenMs).toBeLessThanOrEqual(Math.max((1000 * to.den) / to.num, (1000 * from.den) / from.num) + 1e-6);
        if (sourceFrames === outputFrames) expect([vanish, repeat, unevenMs]).toEqual([0, 0, 0]);
        if (shows.length === outputFrames) expect(outputFrames - repeat + vanish).toBe(sourceFrames);
      }),
    );
  });
  it('240 on 60 is shown at a quarter of the speed', () => expect(slowMotionFactor(60, 240)).toBe(0.25));
});
