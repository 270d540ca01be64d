import * as fc from 'fast-check';
import { dueFramesIn, dueUs, formatRate, nearestDue, parseFrameRate, periodUs } from './index';

const rates = fc.oneof(
  fc.record({ num: fc.integer({ min: 1, max: 480 }), den: fc.constant(1) }),
  fc.constantFrom(
    { num: 24000, den: 1001 },
    { num: 30000, den: 1001 },
    { num: 60000, den: 1001 },
    { num: 120000, den: 1001 },
    { num: 25, den: 2 },
  ),
);

describe('due times', () => {
  it('do not drift over ten hours: each is the exact rational time, rounded once', () => {
    fc.assert(
      fc.property(rates, fc.double({ min: 0, max: 1, noNaN: true }), (rate, share) => {
        const n = Math.floor((share * 36_000 * rate.num) / rate.den);
        const exact = (BigInt(n) * BigInt(rate.den) * 2_000_000n + BigInt(rate.num)) / (2n * BigInt(rate.num));
        return BigInt(dueUs(rate, n)) === exact;
      }),
    );
  });

  it('come in even steps, within half a microsecond of the period', () => {
    fc.assert(
      fc.property(
        rates,
        fc.integer({ min: 0, max: 2_000_000 }),
        (rate, n) => Math.abs(dueUs(rate, n + 1) - dueUs(rate, n) - periodUs(rate)) <= 1,
      ),
    );
  });

  it('are found again from a time stamp rounded to a millisecond, as containers do', () => {
    fc.assert(
      fc.property(
        rates,
        fc.integer({ min: 0, max: 500_000 }),
        (rate, n) => nearestDue(rate, Math.round(dueUs(rate, n) / 1000) * 1000) === n,
      ),
    );
  });

  it('agree with 24 fps over 1001/1000: frame 24 000 is due after exactly 1 001 s', () => {
    expect(dueUs({ num: 24000, den: 1001 }, 24_000)).toBe(1_001_000_000);
    expect(dueFramesIn({ num: 30000, den: 1001 }, 10)).toBe(300);
  });
});

describe('typed frame rates', () => {
  it.each([
    ['60', { num: 60, den: 1 }],
    ['30000/1001', { num: 30000, den: 1001 }],
    ['29.97', { num: 30000, den: 1001 }],
    ['23.976', { num: 24000, den: 1001 }],
    ['59.94', { num: 60000, den: 1001 }],
    ['12.5', { num: 25, den: 2 }],
    ['120/2', { num: 60, den: 1 }],
    [' 480 ', { num: 480, den: 1 }],
  ])('reads %s', (text, rate) => expect(parseFrameRate(text)).toEqual(rate));

  it.each(['', '0', '481', 'sixty', '60/0', '-30', '1/2', '60fps'])('refuses "%s"', (text) =>
    expect(parseFrameRate(text)).toBeNull(),
  );

  it('shows decimals only when fractional', () => {
    expect(formatRate({ num: 60, den: 1 })).toBe('60 fps');
    expect(formatRate({ num: 30000, den: 1001 })).toBe('29.97 fps');
  });
});

describe('typed rates with a point and nothing behind it', () => {
  it.each([
    ['5.0', 5],
    ['1.0', 1],
    ['60.00', 60],
    ['24.000', 24],
    ['480.0', 480],
  ])('%s is a whole rate, not an NTSC fraction', (text, fps) =>
    expect(parseFrameRate(text)).toEqual({ num: fps, den: 1 }),
  );
  it.each([
    ['23.976', 24],
    ['29.97', 30],
    ['59.94', 60],
    ['119.88', 120],
  ])('%s is the NTSC fraction of %d', (text, whole) =>
    expect(parseFrameRate(text)).toEqual({ num: whole * 1000, den: 1001 }),
  );
});
