import * as fc from 'fast-check';
import { practiceGameSchema, recipeSchema, type GrabbedSource } from '@mellow/model';
import { ownGame, practiceAgain } from './ownGame';
import { startRecipe } from './fromBrief';
import { plainPracticeGame } from './practiceGame';

const place = { leftPx: 0, topPx: 0, widthPx: 1601, heightPx: 901, pointer: true };
const window = (title: string): GrabbedSource => ({ kind: 'window', windowId: 7, title, whenClosed: 'end', ...place });

describe('a game of one’s own', () => {
  it('takes its window’s title and size, and no cap of the practice game', () => {
    expect(ownGame(plainPracticeGame, window('Oil Street'))).toEqual({
      ...plainPracticeGame,
      ...{ kind: 'own', title: 'Oil Street', capFps: null, widthPx: 1600, heightPx: 900 },
    });
  });
  it('keeps what a person has called it and the cap they set, when another source is chosen', () => {
    const mine = { ...ownGame(plainPracticeGame, window('Oil Street')), title: 'Mine', capFps: 90 };
    expect(ownGame(mine, window('Launcher'))).toMatchObject({ title: 'Mine', capFps: 90 });
    expect(ownGame(mine, { kind: 'display', name: 'DP-1', ...place })).toMatchObject({ title: 'Mine' });
  });
  // 32:9, three displays side by side, one on its side, 8K.
  it.each([
    [5120, 1440],
    [5760, 1080],
    [1440, 2560],
    [2160, 3840],
    [7680, 4320],
  ])('is as large as a display of %d×%d, and the practice game again as it can be drawn', (widthPx, heightPx) => {
    const own = ownGame(plainPracticeGame, { kind: 'display', name: 'DP-1', ...place, widthPx, heightPx });
    expect(own).toMatchObject({ widthPx, heightPx });
    expect(practiceGameSchema.safeParse(own).success).toBe(true);
    expect(practiceGameSchema.safeParse({ ...own, kind: 'practice' }).success).toBe(
      widthPx <= 3840 && heightPx <= 2160,
    );
    expect(practiceGameSchema.safeParse(practiceAgain(own)).success).toBe(true);
    // What is filed has its shape, within the pixel that even sides cost.
    const { size } = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, own, 'd');
    expect(Math.abs(size.widthPx - (size.heightPx * widthPx) / heightPx)).toBeLessThanOrEqual(2);
    expect(recipeSchema.safeParse(startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, own, 'd')).success).toBe(
      true,
    );
  });
  it('always fits the schema, whatever is on the screen', () => {
    const sizes = { widthPx: fc.integer({ min: 64, max: 7680 }), heightPx: fc.integer({ min: 64, max: 4320 }) };
    fc.assert(
      fc.property(fc.record(sizes), fc.string({ maxLength: 200 }), (size, title) => {
        const game = ownGame(plainPracticeGame, { ...window(title), ...size });
        expect(practiceGameSchema.parse(game)).toEqual({ ...game, title: game.title.trim() });
      }),
    );
  });
});
