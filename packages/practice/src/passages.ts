import type { PracticeGame } from '@mellow/model';

export type PassageKind = PracticeGame['passages'][number]['kind'];

/** The game runs so long before the first due frame; its passages begin then. Whole seconds keep flash and click in step. */
export const warmUpUs = 2_000_000;

/** Which passage runs at a game time; the list repeats. `intoUs` is the time since it began; the warm-up counts as the first. */
export function passageAt(game: PracticeGame, gameTimeUs: number): { kind: PassageKind; intoUs: number } {
  const totalUs = game.passages.reduce((sum, p) => sum + p.seconds * 1e6, 0);
  let left = Math.max(0, gameTimeUs - warmUpUs) % totalUs;
  for (const passage of game.passages) {
    if (left < passage.seconds * 1e6) return { kind: passage.kind, intoUs: left };
    left -= passage.seconds * 1e6;
  }
  return { kind: game.passages[0]?.kind ?? 'calm', intoUs: 0 };
}

/** Slots a second in which frames are numbered: the cap, or 1 000 when the game runs free. */
export const slotsPerSecond = (game: PracticeGame): number => game.capFps ?? 1000;

/** Game time of a slot, integer microseconds. */
export const slotTimeUs = (game: PracticeGame, slot: number): number => Math.round((slot * 1e6) / slotsPerSecond(game));

/** A loading passage stalls for 0.35 s in every 0.7 s. */
export function isStalled(game: PracticeGame, gameTimeUs: number): boolean {
  const { kind, intoUs } = passageAt(game, gameTimeUs);
  return kind === 'loading' && intoUs % 700_000 >= 350_000;
}

/** Work of a frame in microseconds beside drawing: of the main thread, and of each helper. */
export interface FrameWork {
  mainUs: number;
  helperUs: number;
}

/** How much a passage asks against a calm one: a busy one half as much again; loading keeps helpers busy, not the main thread. */
const workOf: Record<PassageKind, { main: number; helper: number }> = {
  calm: { main: 1, helper: 1 },
  busy: { main: 1.5, helper: 1.5 },
  loading: { main: 0.6, helper: 2 },
};

export function frameWork(game: PracticeGame, gameTimeUs: number): FrameWork {
  const { main, helper } = workOf[passageAt(game, gameTimeUs).kind];
  return { mainUs: game.extraLoadUs * main, helperUs: game.helpers ? game.helperLoadUs * helper : 0 };
}
