/**
 * Quantile of Student's t: the value that a share `p` of draws with `df` degrees of freedom stays below, 0.5 <= p < 1.
 * Hill, Algorithm 396 (Communications of the ACM 13, 1970), exact for 1 and 2 degrees; relative error below 1e-5 from 3 on
 * (held against the tables of the NIST/SEMATECH e-Handbook, 1.3.6.7.2).
 */
export function studentTQuantile(p: number, df: number): number {
  const two = 2 * (1 - p);
  if (!(p >= 0.5 && p < 1) || !(df >= 1)) throw new RangeError('Student’s t needs 0.5 <= p < 1 and df >= 1');
  if (df === 1) return Math.cos((two * Math.PI) / 2) / Math.sin((two * Math.PI) / 2);
  if (df === 2) return Math.sqrt(2 / (two * (2 - two)) - 2);
  const a = 1 / (df - 0.5);
  const b = 48 / a ** 2;
  let c = ((20_700 * a) / b - 98) * a - 16;
  c = c * a + 96.36;
  const d = ((94.5 / (b + c) - 3) / b + 1) * Math.sqrt((a * Math.PI) / 2) * df;
  let x = d * two;
  let y = x ** (2 / df);
  if (y > 0.05 + a) {
    x = normalQuantile(1 - two / 2);
    y = x * x;
    if (df < 5) c += 0.3 * (df - 4.5) * (x + 0.6);
    c = (((0.05 * d * x - 5) * x - 7) * x - 2) * x + b + c;
    y = (((((0.4 * y + 6.3) * y + 36) * y + 94.5) / c - y - 3) / b + 1) * x;
    y = a * y * y;
    y = y > 0.002 ? Math.exp(y) - 1 : 0.5 * y * y + y;
  } else {
    y =
      ((1 / (((df + 6) / (df * y) - 0.089 * d - 0.822) * (df + 2) * 3) + 0.5 / (df + 4)) * y - 1) *
        ((df + 1) / (df + 2)) +
      1 / y;
  }
  return Math.sqrt(df * y);
}

/** Quantile of the standard normal: rational approximation by Acklam (from memory), relative error below 1.2e-9. */
export function normalQuantile(p: number): number {
  const a = [
    -39.69683028665376, 220.9460984245205, -275.9285104469687, 138.357751867269, -30.66479806614716, 2.506628277459239,
  ];
  const b = [-54.47609879822406, 161.5858368580409, -155.6989798598866, 66.80131188771972, -13.28068155288572, 1];
  const c = [
    -0.007784894002430293, -0.3223964580411365, -2.400758277161838, -2.549732539343734, 4.374664141464968,
    2.938163982698783,
  ];
  const d = [0.007784695709041462, 0.3224671290700398, 2.445134137142996, 3.754408661907416, 1];
  const horner = (coefficients: readonly number[], x: number): number =>
    coefficients.reduce((sum, k) => sum * x + k, 0);
  if (p < 0.02425) {
    const q = Math.sqrt(-2 * Math.log(p));
    return horner(c, q) / horner(d, q);
  }
  if (p > 1 - 0.02425) return -normalQuantile(1 - p);
  const q = p - 0.5;
  return (horner(a, q * q) * q) / horner(b, q * q);
}
