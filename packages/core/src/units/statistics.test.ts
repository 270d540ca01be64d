import { ascending, mean, percentileOfSorted } from './index';

describe('percentiles', () => {
  it('interpolate linearly between ranks (Hyndman and Fan 1996, type 7: their quantile of 1..10 at 0.9 is 9.1)', () => {
    const values = ascending([10, 3, 1, 2, 4, 5, 6, 7, 8, 9]);
    expect(percentileOfSorted(values, 0.9)).toBeCloseTo(9.1, 10);
    expect(percentileOfSorted(values, 0)).toBe(1);
    expect(percentileOfSorted(values, 1)).toBe(10);
    expect(percentileOfSorted(ascending([4]), 0.99)).toBe(4);
  });
  it('mean of nothing is 0', () => {
    expect(mean([])).toBe(0);
    expect(mean([1, 2, 6])).toBe(3);
  });
});
