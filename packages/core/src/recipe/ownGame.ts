import { mostGamePx, type GrabbedSource, type PracticeGame, type SampleSource } from '@mellow/model';
import type { SizePx } from '../picture/shape';

/** An even number of pixels within what a game may be played at. */
const even = (px: number, least: number, most: number): number => Math.max(least, Math.min(most, px - (px % 2)));
const playable = ({ widthPx, heightPx }: SizePx, most: SizePx): SizePx => ({
  widthPx: even(widthPx, 320, most.widthPx),
  heightPx: even(heightPx, 180, most.heightPx),
});

/**
 * The game of a setup once it is a person's own, played where `source` shows it: as large as that, by the title of its window
 * where it had the practice game's so far. How fast it goes is told by its own facts, and no longer by the practice game's cap.
 */
export function ownGame(game: PracticeGame, source: GrabbedSource): PracticeGame {
  const first = game.kind === 'practice';
  return {
    ...game,
    kind: 'own',
    title: (first && source.kind === 'window' && source.title.trim().slice(0, 60)) || game.title,
    capFps: first ? null : game.capFps,
    ...playable(source, mostGamePx.own),
  };
}

/** The practice game again, as large as it was played, or as it can be drawn. */
export function practiceAgain(game: PracticeGame): PracticeGame {
  return { ...game, kind: 'practice', ...playable(game, mostGamePx.practice) };
}

/** The game of a trial that plays a sample of it: as large as the sample, and no faster than that has pictures. */
export function sampledGame(game: PracticeGame, sample: SampleSource): PracticeGame {
  const fps = Math.round(sample.rate.num / sample.rate.den);
  return {
    ...game,
    kind: 'own',
    capFps: Math.max(10, Math.min(500, fps)),
    ...playable(sample, mostGamePx.own),
  };
}
