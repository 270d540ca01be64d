import * as fc from 'fast-check';
import { vp9Level } from './vp9Levels';

const rate = (num: number) => ({ num, den: 1 });
const level = (widthPx: number, heightPx: number, fps: number, kbps = 0) =>
  vp9Level({ widthPx, heightPx }, rate(fps), kbps)?.name ?? null;

describe('levels of VP9', () => {
  // Formats that the project's own page of levels names beside each (from memory).
  it.each([
    [256, 144, 15, '1'],
    [480, 256, 30, '2'],
    [640, 384, 30, '2.1'],
    [1080, 512, 30, '3'],
    [1280, 768, 30, '3.1'],
    [2048, 1088, 30, '4'],
    [2048, 1088, 60, '4.1'],
    [4096, 2176, 30, '5'],
    [4096, 2176, 60, '5.1'],
    [4096, 2176, 120, '5.2'],
    [7680, 4320, 30, '6'],
    [7680, 4320, 60, '6.1'],
  ] as const)('%ix%i at %i fps is %s', (widthPx, heightPx, fps, name) =>
    expect(level(widthPx, heightPx, fps)).toBe(name),
  );
  it('rise with the rate that is set', () => {
    expect(level(1280, 720, 30, 12_000)).toBe('3.1');
    expect(level(1280, 720, 30, 12_001)).toBe('4');
    expect(level(1280, 720, 30, 500_000)).toBeNull();
  });
  it('end above the largest picture and the longest side', () => {
    expect(level(16_832, 2048, 1)).toBe('6');
    expect(level(16_834, 64, 1)).toBeNull();
    expect(level(8192, 8192, 1)).toBeNull();
  });
  it('never fall where picture, rate or bits grow', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 64, max: 4000 }),
        fc.integer({ min: 64, max: 2200 }),
        fc.integer({ min: 1, max: 120 }),
        fc.integer({ min: 0, max: 200_000 }),
        (widthPx, heightPx, fps, kbps) => {
          const of = (w: number, h: number, f: number, k: number): number =>
            vp9Level({ widthPx: w, heightPx: h }, rate(f), k)?.code ?? 99;
          const here = of(widthPx, heightPx, fps, kbps);
          expect(of(widthPx + 64, heightPx, fps, kbps)).toBeGreaterThanOrEqual(here);
          expect(of(widthPx, heightPx + 64, fps, kbps)).toBeGreaterThanOrEqual(here);
          expect(of(widthPx, heightPx, fps + 30, kbps)).toBeGreaterThanOrEqual(here);
          expect(of(widthPx, heightPx, fps, kbps * 2)).toBeGreaterThanOrEqual(here);
        },
      ),
    ));
});
