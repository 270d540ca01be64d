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

/** Extra processor work of a frame in microseconds: half as much again when busy. */
export function extraLoadUs(game: PracticeGame, gameTimeUs: number): number {
  return passageAt(game, gameTimeUs).kind === 'busy' ? game.extraLoadUs * 1.5 : game.extraLoadUs;
}
