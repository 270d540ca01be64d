import type { Passage, PracticeGame } from '@mellow/model';

/** The passages of a take of so many seconds, as the practice game runs through them. */
export function passagesFor(game: PracticeGame, lengthS: number): Passage[] {
  const passages: Passage[] = [];
  for (let left = lengthS, i = 0; left > 1e-6; i++) {
    const passage = game.passages[i % game.passages.length];
    if (!passage) break;
    const seconds = Math.min(left, passage.seconds);
    passages.push({ kind: passage.kind, seconds });
    left -= seconds;
  }
  return passages;
}
