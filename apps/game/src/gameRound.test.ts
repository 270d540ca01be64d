import { plainPracticeGame } from '@mellow/core';
import { colourOf, createPicture, practiceScene, readStrip } from '@mellow/practice';
import { beginRound, type Direction } from './gameRound';

const game = { ...plainPracticeGame, widthPx: 640, heightPx: 360, strip: true, capFps: 60 };
const brass = colourOf('#E2C185').y;
const held = (...directions: Direction[]): ReadonlySet<Direction> => new Set(directions);

/** Column and row of the square's upper left corner, found by where a picture differs from the scene alone. */
function squareIn(picture: { y: Uint8Array }, slot: number): [x: number, y: number] {
  const alone = createPicture(game.widthPx, game.heightPx);
  practiceScene(game).draw(alone, slot);
  const at = picture.y.findIndex((value, i) => value === brass && alone.y[i] !== value);
  return [at % game.widthPx, Math.floor(at / game.widthPx)];
}

describe('a round of the practice game', () => {
  it('is the scene with a square over it, and its strip stays whole', () => {
    const round = beginRound(game);
    expect(round.rate).toBe(60);
    for (const slot of [0, 59, 600]) {
      const picture = round.frame(slot, held());
      expect(readStrip(picture.y, 640, 640, 360, 640, 360)?.number).toBe(slot);
      expect(squareIn(picture, slot)).toEqual([320, 180]);
    }
  });
  it.each<[Direction, number, number]>([
    ['left', -12, 0],
    ['right', 12, 0],
    ['up', 0, -12],
    ['down', 0, 12],
  ])('a held %s key moves it by a step each frame', (direction, dx, dy) => {
    const round = beginRound(game);
    round.frame(0, held(direction));
    expect(squareIn(round.frame(1, held(direction)), 1)).toEqual([320 + 2 * dx, 180 + 2 * dy]);
  });
  it('two keys move it aslant, opposite ones not at all', () => {
    const aslant = beginRound(game).frame(0, held('left', 'up'));
    expect(squareIn(aslant, 0)).toEqual([308, 168]);
    const still = beginRound(game).frame(0, held('left', 'right', 'up', 'down'));
    expect(squareIn(still, 0)).toEqual([320, 180]);
  });
  it('it stays in the picture and off the strips however long a key is held', () => {
    for (const direction of ['left', 'right', 'up', 'down'] as const) {
      const round = beginRound(game);
      for (let slot = 0; slot < 100; slot++) round.frame(slot, held(direction));
      const picture = round.frame(100, held(direction));
      const [x, y] = squareIn(picture, 100);
      expect([x >= 0, x <= 632, y >= 72, y <= 288]).toEqual([true, true, true, true]);
      expect(readStrip(picture.y, 640, 640, 360, 640, 360)?.number).toBe(100);
    }
  });
});
