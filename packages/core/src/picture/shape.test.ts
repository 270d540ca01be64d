import { fillStretch, nothingToScale, pixelShare, shapeOf, sizesBelow } from './index';

describe('shapes', () => {
  it('come in lowest terms', () => {
    expect(shapeOf({ widthPx: 1920, heightPx: 1080 })).toBe('16:9');
    expect(shapeOf({ widthPx: 1024, heightPx: 768 })).toBe('4:3');
    expect(shapeOf({ widthPx: 2560, heightPx: 1080 })).toBe('64:27');
  });
  it('1080 to 720 lines keeps 0.444 of the pixels, 4:3 in 16:9 is stretched by 1.333', () => {
    expect(pixelShare({ widthPx: 1920, heightPx: 1080 }, { widthPx: 1280, heightPx: 720 })).toBeCloseTo(0.444, 3);
    expect(fillStretch({ widthPx: 1024, heightPx: 768 }, { widthPx: 1920, heightPx: 1080 })).toBeCloseTo(1.333, 3);
  });
  it('offers even sizes of the game’s shape, its own first', () => {
    const sizes = sizesBelow({ widthPx: 1920, heightPx: 1080 });
    expect(sizes[0]).toEqual({ widthPx: 1920, heightPx: 1080 });
    expect(sizes).toContainEqual({ widthPx: 1280, heightPx: 720 });
    for (const size of sizes) expect([size.widthPx % 2, size.heightPx % 2]).toEqual([0, 0]);
    expect(nothingToScale(sizes[0]!, { widthPx: 1920, heightPx: 1080 })).toBe(true);
  });
});
