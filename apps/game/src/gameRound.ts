import type { PracticeGame } from '@mellow/model';
import { colourOf, createPicture, fillRect, practiceScene, slotsPerSecond, type Picture420 } from '@mellow/practice';

export type Direction = 'left' | 'right' | 'up' | 'down';

/** What is played, whatever it is shown in: the scene, and a square that is steered over it. */
export interface GameRound {
  /** Frames a second that are drawn at most. */
  rate: number;
  /** Moves the square by one step of the keys that are held, and draws a frame. */
  frame(slot: number, held: ReadonlySet<Direction>): Picture420;
}

const brass = colourOf('#E2C185');
const stepPx = 12;
const steps: Record<Direction, readonly [x: number, y: number]> = {
  left: [-stepPx, 0],
  right: [stepPx, 0],
  up: [0, -stepPx],
  down: [0, stepPx],
};

export function beginRound(game: PracticeGame): GameRound {
  const { widthPx, heightPx } = game;
  const scene = practiceScene(game);
  const picture = createPicture(widthPx, heightPx);
  const square = { x: widthPx / 2, y: heightPx / 2, sidePx: Math.max(8, (heightPx >> 5) & ~1) };
  return {
    rate: slotsPerSecond(game),
    frame(slot, held) {
      for (const direction of held) {
        const [dx, dy] = steps[direction];
        square.x = Math.min(widthPx - square.sidePx, Math.max(0, square.x + dx));
        square.y = Math.min(heightPx * 0.8, Math.max(heightPx * 0.2, square.y + dy));
      }
      scene.draw(picture, slot);
      fillRect(picture, square.x & ~1, square.y & ~1, square.sidePx, square.sidePx, brass);
      return picture;
    },
  };
}
