import * as fc from 'fast-check';
import { baseRecipe } from '../recipe/anyRecipe.test-support';
import { passesThrough } from '../forecast';
import { plainPracticeGame } from '../recipe';
import { fitInto, nearShape, halfPerSide, isWide, shapeName, sizeByLines, sizeByPercent, textHeightPx } from './index';

const anySize = fc.record({
  widthPx: fc.integer({ min: 64, max: 4096 }),
  heightPx: fc.integer({ min: 64, max: 2304 }),
});

describe('sizes', () => {
  it('scale by lines, by per cent and by half, with even sides', () => {
    expect(sizeByLines({ widthPx: 2560, heightPx: 1440 }, 1080)).toEqual({ widthPx: 1920, heightPx: 1080 });
    expect(sizeByLines({ widthPx: 1366, heightPx: 768 }, 720)).toEqual({ widthPx: 1280, heightPx: 720 });
    expect(sizeByPercent({ widthPx: 1920, heightPx: 1080 }, 75)).toEqual({ widthPx: 1440, heightPx: 810 });
    expect(halfPerSide({ widthPx: 1922, heightPx: 1080 })).toEqual({ widthPx: 962, heightPx: 540 });
    fc.assert(
      fc.property(anySize, fc.integer({ min: 1, max: 200 }), (size, percent) =>
        Object.values(sizeByPercent(size, percent)).every((side) => side >= 2 && side % 2 === 0),
      ),
    );
  });
  it('have the names people use', () => {
    expect(
      [
        [1920, 1080],
        [1366, 768],
        [2560, 1080],
        [3440, 1440],
        [1920, 1200],
        [1024, 768],
        [1280, 1024],
        [3840, 1080],
        [1000, 700],
      ].map(([widthPx, heightPx]) => shapeName({ widthPx: widthPx!, heightPx: heightPx! })),
    ).toEqual(['16:9', '16:9', '21:9', '21:9', '16:10', '4:3', '5:4', '32:9', '10:7']);
    expect(isWide({ widthPx: 1600, heightPx: 900 })).toBe(true);
  });
});

describe('a picture in a file of another shape', () => {
  it('has bars of 135 px for 2560x1080 in 1920x1080, and a stretch of 1.333 for 4:3 in 16:9', () => {
    expect(fitInto({ widthPx: 2560, heightPx: 1080 }, { widthPx: 1920, heightPx: 1080 }, 'bars')).toMatchObject({
      picture: { widthPx: 1920, heightPx: 810 },
      barsPx: { side: 0, top: 135 },
      stretch: 1,
      cutShare: 0,
    });
    expect(fitInto({ widthPx: 1024, heightPx: 768 }, { widthPx: 1920, heightPx: 1080 }, 'stretch').stretch).toBeCloseTo(
      1.333,
      3,
    );
    expect(fitInto({ widthPx: 1024, heightPx: 768 }, { widthPx: 1920, heightPx: 1080 }, 'bars').barsPx).toEqual({
      side: 240,
      top: 0,
    });
    // 21:9 (64:27) filled into 16:9 (48:27) keeps 48 of 64 columns.
    expect(fitInto({ widthPx: 2560, heightPx: 1080 }, { widthPx: 1920, heightPx: 1080 }, 'fill').cutShare).toBeCloseTo(
      0.25,
      9,
    );
  });
  it('with bars lies within the file, keeps its shape and touches two sides', () => {
    fc.assert(
      fc.property(anySize, anySize, (game, file) => {
        const { picture, barsPx } = fitInto(game, file, 'bars');
        expect(picture.widthPx + 2 * barsPx.side).toBe(file.widthPx);
        expect(picture.heightPx + 2 * barsPx.top).toBe(file.heightPx);
        expect(Math.min(barsPx.side, barsPx.top)).toBeLessThanOrEqual(1);
        // Rounding to even sides moves the shape by at most two pixels of one side; one near enough is stretched whole.
        const [widthPx, heightPx] = [picture.widthPx, picture.heightPx];
        expect(Math.abs(widthPx / heightPx / (game.widthPx / game.heightPx) - 1)).toBeLessThanOrEqual(
          Math.max(nearShape / (1 - nearShape), 2.1 / widthPx + 2.1 / heightPx),
        );
      }),
      { numRuns: 2000 },
    );
  });
  it('makes text as small as the picture becomes', () => {
    expect(textHeightPx({ widthPx: 2560, heightPx: 1440 }, { widthPx: 1920, heightPx: 1080 }, 'bars', 14)).toBeCloseTo(
      10.5,
      9,
    );
    expect(textHeightPx({ widthPx: 2560, heightPx: 1080 }, { widthPx: 1920, heightPx: 1080 }, 'bars', 16)).toBeCloseTo(
      12,
      9,
    );
  });
});

describe('work at Size', () => {
  const game = { ...plainPracticeGame, widthPx: 1280, heightPx: 720 };
  it('is none where size and range are the game’s', () => {
    expect(passesThrough(game, baseRecipe)).toBe(true);
    expect(passesThrough(game, { ...baseRecipe, encode: { ...baseRecipe.encode, range: 'full' } })).toBe(false);
    expect(passesThrough(game, { ...baseRecipe, encode: { ...baseRecipe.encode, encoder: 'mjpeg-software' } })).toBe(
      false,
    );
    expect(passesThrough(game, { ...baseRecipe, size: { ...baseRecipe.size, widthPx: 1278 } })).toBe(false);
  });
});
