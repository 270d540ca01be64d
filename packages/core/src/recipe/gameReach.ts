import type { PracticeGame } from '@mellow/model';

/** Highest rate the game is known to show, fps: its cap, what it reaches without one, or the lower of both; null: not known. */
export function gameReachFps({ capFps, facts }: Pick<PracticeGame, 'capFps' | 'facts'>): number | null {
  if (capFps === null) return facts.freeFps;
  return facts.freeFps === null ? capFps : Math.min(capFps, facts.freeFps);
}

/** Rates that files have, highest first. */
export const usualRates = [240, 120, 60, 50, 30, 25] as const;

/** The highest usual rate that a game fills, below one that it does not; null where it fills that one, or none is left. */
export function rateWithinReach(fps: number, reachFps: number | null): number | null {
  if (reachFps === null || reachFps >= fps * 0.995) return null;
  return usualRates.find((rate) => rate <= reachFps * 1.005 && rate < fps) ?? null;
}
