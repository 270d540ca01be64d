import * as fc from 'fast-check';
import { dueUs, periodUs } from '@mellow/core';
import { leastAheadUs, pauseLengthUs } from './pauseLength';

const rates = fc.constantFrom(
  { num: 24000, den: 1001 },
  { num: 30, den: 1 },
  { num: 60, den: 1 },
  { num: 120_000, den: 1001 },
);

it('the due after a pause lies ahead of now, on the grid of dues, and no more than a period later than it has to', () => {
  fc.assert(
    fc.property(
      rates,
      fc.nat(2_000_000),
      fc.integer({ min: -100_000, max: 2_000_000 }),
      fc.integer({ min: 0, max: 5_000_000 }),
      (rate, due, lateUs, lastsUs) => {
        const dueAtUs = 7e9;
        const sinceUs = dueAtUs + lateUs;
        const nowUs = sinceUs + lastsUs;
        const lengthUs = pauseLengthUs(rate, due, dueAtUs, sinceUs, nowUs);
        const aheadUs = dueAtUs + lengthUs - nowUs;
        // Dues are whole microseconds: two of them may lie apart by one less or more than their periods.
        expect(aheadUs).toBeGreaterThanOrEqual(leastAheadUs - 1);
        const earliestUs = leastAheadUs + Math.max(0, -lateUs);
        expect(aheadUs).toBeLessThanOrEqual(earliestUs + periodUs(rate) + 1);
        const periods = Math.round(lengthUs / periodUs(rate));
        expect(lengthUs).toBe(dueUs(rate, due + periods) - dueUs(rate, due));
      },
    ),
  );
});
