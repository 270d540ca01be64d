import type { Brief, PracticeGame } from '@mellow/model';

/** Highest rate the game is known to show, fps: its cap, what it reaches without one, or the lower of both; null: not known. */
export function gameReachFps({ capFps, facts }: Pick<PracticeGame, 'capFps' | 'facts'>): number | null {
  if (capFps === null) return facts.freeFps;
  return facts.freeFps === null ? capFps : Math.min(capFps, facts.freeFps);
}

/** Rates that files have, highest first: those of 50 Hz are uneven on screens of 60, and the other way round. */
const usualRates = { 60: [240, 120, 60, 30], 50: [200, 100, 50, 25] } as const;

/** Whole rates for those who watch: of their screens and, in a country of 50 Hz, of its broadcasters. */
export const ratesFor = ({ mainsHz, shownFps }: Pick<Brief, 'mainsHz' | 'shownFps'>): readonly number[] =>
  usualRates[mainsHz === 50 && shownFps % 25 === 0 ? 50 : 60];

/** A file may ask for so much more than a game shows: the few repeats are less uneven than another rate would be. */
export const repeatsBorne = 0.1;

/** The highest usual rate that a game fills, where it leaves too many repeats at `fps`; its own, below all of them; null where it fills `fps`. */
export function rateWithinReach(
  fps: number,
  reachFps: number | null,
  brief: Pick<Brief, 'mainsHz' | 'shownFps'>,
): number | null {
  if (reachFps === null || reachFps >= fps * (1 - repeatsBorne)) return null;
  const rates = ratesFor(brief).filter((rate) => rate < fps);
  return rates.find((rate) => reachFps >= rate * (1 - repeatsBorne)) ?? Math.max(1, Math.floor(reachFps));
}
