import type { X11Connection } from '@mellow/engine';
import { colourOf, createPicture, fillRect, practiceScene, slotsPerSecond } from '@mellow/practice';
import type { GameOptions } from './gameOptions';
import { playGameSound } from './gameSound';
import { openGameWindow, type Direction } from './gameWindow';
import { toRgb } from './rgbPicture';

export interface PlayEvents {
  /** A line of the log: after its heading a frame's number and when it was shown, microseconds of the monotonic clock. */
  presented(line: string): void;
  /** Whether it was asked to end. */
  leaving(): boolean;
  /** Something a person should know. */
  say(text: string): void;
}

const brass = colourOf('#E2C185');
const stepPx = 12;
const steps: Record<Direction, readonly [x: number, y: number]> = {
  left: [-stepPx, 0],
  right: [stepPx, 0],
  up: [0, -stepPx],
  down: [0, stepPx],
};

const monotonicUs = (): number => Number(process.hrtime.bigint() / 1000n);

/** Plays until the window is closed, the time is over or the game is asked to leave. */
export async function playInWindow(
  x: X11Connection,
  { game, seconds, sound, output }: GameOptions,
  events: PlayEvents,
): Promise<void> {
  const window = await openGameWindow(x, game);
  const scene = practiceScene(game);
  const picture = createPicture(game.widthPx, game.heightPx);
  const shown = Buffer.alloc(game.widthPx * game.heightPx * 4);
  const rate = slotsPerSecond(game);
  const square = { x: game.widthPx / 2, y: game.heightPx / 2, sidePx: Math.max(8, (game.heightPx >> 5) & ~1) };
  const startUs = monotonicUs();
  const heard = sound ? playGameSound(startUs, game.strip, output, monotonicUs, events.say) : null;
  let closed = false;
  void window.closed.then(() => (closed = true));
  let slot = 0;
  events.presented('frame,shownUs');
  while (!closed && !events.leaving()) {
    const elapsedUs = monotonicUs() - startUs;
    if (seconds !== null && elapsedUs >= seconds * 1e6) break;
    // A late game skips slots: frame number and game time stay tied to the clock.
    slot = Math.max(slot, Math.floor((elapsedUs * rate) / 1e6));
    const waitMs = ((slot * 1e6) / rate - elapsedUs) / 1000;
    if (waitMs > 0) await new Promise((resolve) => setTimeout(resolve, waitMs));
    move(window.held());
    scene.draw(picture, slot);
    fillRect(picture, square.x & ~1, square.y & ~1, square.sidePx, square.sidePx, brass);
    toRgb(picture, shown);
    await Promise.race([window.show(shown), window.closed]).catch(() => {});
    if (!closed) events.presented(`${slot},${monotonicUs()}`);
    slot++;
  }
  heard?.stop();

  function move(held: ReadonlySet<Direction>): void {
    for (const direction of held) {
      const [dx, dy] = steps[direction];
      square.x = Math.min(game.widthPx - square.sidePx, Math.max(0, square.x + dx));
      square.y = Math.min(game.heightPx * 0.8, Math.max(game.heightPx * 0.2, square.y + dy));
    }
  }
}
