import type { X11Connection } from '@mellow/engine';
import type { GameOptions } from './gameOptions';
import { beginRound } from './gameRound';
import { playGameSound } from './gameSound';
import { openGameWindow } from './gameWindow';
import { toRgb } from './rgbPicture';

export interface PlayEvents {
  /** A line of the log: after its heading a frame's number and when it was shown, microseconds of the monotonic clock. */
  presented(line: string): void;
  /** Whether it was asked to end. */
  leaving(): boolean;
  /** Something a person should know. */
  say(text: string): void;
}

const monotonicUs = (): number => Number(process.hrtime.bigint() / 1000n);

/** Plays until the window is closed, the time is over or the game is asked to leave. */
export async function playInWindow(
  x: X11Connection,
  { game, seconds, sound, output }: GameOptions,
  events: PlayEvents,
): Promise<void> {
  const window = await openGameWindow(x, game);
  const round = beginRound(game);
  const shown = Buffer.alloc(game.widthPx * game.heightPx * 4);
  const { rate } = round;
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
    toRgb(round.frame(slot, window.held()), shown);
    await Promise.race([window.show(shown), window.closed]).catch(() => {});
    if (!closed) events.presented(`${slot},${monotonicUs()}`);
    slot++;
  }
  heard?.stop();
}
