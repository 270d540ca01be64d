import { normalQuantile, studentTQuantile } from './index';

describe('Student’s t', () => {
  // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2, one-sided.
  it.each([
    [0.95, 1, 6.314],
    [0.975, 1, 12.706],
    [0.975, 2, 4.303],
    [0.975, 3, 3.182],
    [0.975, 4, 2.776],
    [0.995, 4, 4.604],
    [0.975, 5, 2.571],
    [0.99, 7, 2.998],
    [0.975, 10, 2.228],
    [0.999, 12, 3.93],
    [0.95, 20, 1.725],
    [0.975, 30, 2.042],
    [0.975, 100, 1.984],
  ])('quantile %d with %d degrees is %d', (p, df, t) => expect(studentTQuantile(p, df)).toBeCloseTo(t, 2));
  it('comes to the normal’s with many degrees, and is 0 in the middle', () => {
    expect(studentTQuantile(0.975, 1e6)).toBeCloseTo(normalQuantile(0.975), 4);
    expect(studentTQuantile(0.5, 7)).toBeCloseTo(0, 6);
  });
  it('falls with the degrees', () => {
    const values = [1, 2, 3, 4, 5, 8, 15, 40].map((df) => studentTQuantile(0.975, df));
    expect(values).toEqual(values.toSorted((a, b) => b - a));
  });
  it.each([
    [0.3, 5],
    [1, 5],
    [0.9, 0],
    [NaN, 3],
  ])('refuses p %d with %d degrees', (p, df) => expect(() => studentTQuantile(p, df)).toThrow(RangeError));
  // Table of the normal distribution, from memory.
  it.each([
    [0.5, 0],
    [0.9, 1.281552],
    [0.975, 1.959964],
    [0.001, -3.090232],
  ])('the normal’s quantile %d is %d', (p, z) => expect(normalQuantile(p)).toBeCloseTo(z, 5));
});
