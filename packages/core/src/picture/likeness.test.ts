import * as fc from 'fast-check';
import { keptPicture, likenessOf, picturesToKeep } from './index';

const rate = { num: 60, den: 1 };

describe('pictures that are kept to be compared', () => {
  it('lie one in each equal stretch, rising, never beyond the take, for any length and count', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 20_000 }), fc.integer({ min: 1, max: 60 }), (due, most) => {
        const count = Math.min(due, most);
        const kept = Array.from({ length: count }, (_, i) => keptPicture(i, count, due));
        kept.forEach((n, i) => {
          expect(n).toBeGreaterThanOrEqual(Math.floor((i * due) / count));
          expect(n).toBeLessThan(Math.max(1, Math.ceil(((i + 1) * due) / count)));
          if (i) expect(n).toBeGreaterThan(kept[i - 1]!);
        });
      }),
      { numRuns: 300 },
    );
  });
  it('meet key pictures as often as these come, whatever their distance', () => {
    // 60 of 600 frames; at a distance of d, 60 / d of them should be key pictures.
    for (const distance of [2, 3, 5, 10, 15]) {
      const kept = Array.from({ length: 60 }, (_, i) => keptPicture(i, 60, 600));
      const keys = kept.filter((n) => n % distance === 0).length;
      expect(Math.abs(keys - 60 / distance)).toBeLessThan(6);
    }
  });
  it('are five a second, sixty at most, and fewer where memory asks for it', () => {
    expect(picturesToKeep(600, rate, 1e6)).toBe(50);
    expect(picturesToKeep(3600, rate, 1e6)).toBe(60);
    expect(picturesToKeep(600, rate, 3840 * 2160)).toBe(23);
    expect(picturesToKeep(3, rate, 1e6)).toBe(1);
    expect(picturesToKeep(1, rate, 1e12)).toBe(1);
  });
});

describe('likeness of a take', () => {
  const one = (n: number, ssim: number) => ({ n, ssim, same: ssim === 1 });
  it('is the mean over all, and the least mean of one second, each by its own pictures', () => {
    const found = likenessOf([one(0, 0.9), one(59, 0.8), one(60, 0.7), one(119, 0.9), one(130, 1)], rate);
    expect(found).toEqual({
      pictures: 5,
      ssim: expect.closeTo(0.86, 9),
      worstSecondSsim: expect.closeTo(0.8, 9),
      worstSecond: 1,
      exact: false,
    });
  });
  it('counts seconds of the rate, NTSC too', () => {
    const ntsc = { num: 30000, den: 1001 };
    expect(likenessOf([one(29, 0.5), one(30, 0.9)], ntsc)?.worstSecond).toBe(0);
    expect(likenessOf([one(29, 0.9), one(30, 0.5)], ntsc)?.worstSecond).toBe(1);
  });
  it('is exact only where every picture is, and nothing where none was compared', () => {
    expect(likenessOf([one(0, 1), one(1, 1)], rate)?.exact).toBe(true);
    expect(likenessOf([one(0, 1), one(1, 0.9999)], rate)?.exact).toBe(false);
    expect(likenessOf([], rate)).toBeNull();
  });
});
