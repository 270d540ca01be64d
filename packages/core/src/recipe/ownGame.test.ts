import * as fc from 'fast-check';
import { practiceGameSchema, type GrabbedSource } from '@mellow/model';
import { ownGame } from './ownGame';
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
