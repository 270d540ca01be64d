import * as fc from 'fast-check';
import { randomStream } from '../units';
import { ssimOfLuma, type LumaPlane } from './index';

const plane = (
  widthPx: number,
  heightPx: number,
  of: (x: number, y: number) => number,
  strideBytes = widthPx,
): LumaPlane => {
  const luma = new Uint8Array(strideBytes * heightPx).fill(77);
  for (let y = 0; y < heightPx; y++) for (let x = 0; x < widthPx; x++) luma[y * strideBytes + x] = of(x, y);
  return { luma, strideBytes, widthPx, heightPx };
};
const noise = (seed: number) => {
  const random = randomStream(seed);
  return () => Math.floor(random() * 256);
};

describe('structural similarity', () => {
  it('of a picture with itself is 1, whatever the picture and however its rows are padded', () => {
    fc.assert(
      fc.property(fc.integer({ min: 8, max: 40 }), fc.integer({ min: 8, max: 40 }), fc.integer(), (w, h, seed) => {
        const a = plane(w, h, noise(seed));
        const padded = plane(w, h, (x, y) => a.luma[y * w + x]!, w + 13);
        expect(ssimOfLuma(a, padded)).toBeCloseTo(1, 12);
      }),
      { numRuns: 50 },
    );
  });
  it('of two flat pictures is the luminance term alone: (2ab + C1) / (a² + b² + C1) (Wang et al. 2004, eq. 6)', () => {
    const [a, b, c1] = [100, 130, (0.01 * 255) ** 2];
    const expected = (2 * a * b + c1) / (a * a + b * b + c1);
    expect(
      ssimOfLuma(
        plane(16, 16, () => a),
        plane(16, 16, () => b),
      ),
    ).toBeCloseTo(expected, 9);
  });
  it('of a pattern with its negative is below 0, and of noise with other noise near 0', () => {
    const checks = (x: number, y: number) => ((x + y) % 2 ? 160 : 96);
    expect(
      ssimOfLuma(
        plane(16, 16, checks),
        plane(16, 16, (x, y) => 256 - checks(x, y)),
      ),
    ).toBeLessThan(-0.9);
    expect(Math.abs(ssimOfLuma(plane(64, 64, noise(1)), plane(64, 64, noise(2))))).toBeLessThan(0.05);
  });
  it('is the same both ways, and falls with more noise', () => {
    const scene = (x: number, y: number) => 120 + 60 * Math.sin(x / 5) * Math.cos(y / 7);
    const clean = plane(64, 48, scene);
    const withNoise = (amount: number): LumaPlane => {
      const random = randomStream(5);
      return plane(64, 48, (x, y) => Math.max(0, Math.min(255, scene(x, y) + (random() - 0.5) * amount)));
    };
    const values = [2, 8, 20, 60].map((amount) => ssimOfLuma(clean, withNoise(amount)));
    expect(values).toEqual(values.toSorted((a, b) => b - a));
    expect(ssimOfLuma(clean, withNoise(20))).toBeCloseTo(ssimOfLuma(withNoise(20), clean), 12);
  });
  it('takes no picture under 8 by 8', () => {
    const small = plane(7, 20, () => 1);
    expect(() => ssimOfLuma(small, small)).toThrow(RangeError);
  });
});
