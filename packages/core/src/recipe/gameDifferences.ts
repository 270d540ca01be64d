import type { PracticeGame } from '@mellow/model';
import { formatFps, formatSize } from '../units';
import { practiceSceneWords } from './practiceGame';

type Said = readonly [name: string, of: (game: PracticeGame) => string];

const percent = (share: number): string => `${Math.round(share * 100)} %`;
const ms = (us: number): string => `${(us / 1000).toFixed(1)} ms`;

/** What a trial would notice of the game, each by name and in words. */
const noticed: readonly Said[] = [
  ['title', (g) => g.title],
  ['scene', (g) => practiceSceneWords[g.scene].title],
  ['size', (g) => formatSize(g.widthPx, g.heightPx)],
  ['cap', (g) => (g.capFps === null ? 'none' : formatFps(g.capFps))],
  ['motion', (g) => percent(g.motion)],
  ['detail', (g) => percent(g.detail)],
  ['work of its main thread', (g) => ms(g.extraLoadUs)],
  ['helpers', (g) => (g.helpers ? `${g.helpers} of ${ms(g.helperLoadUs)}` : 'none')],
  ['passages', (g) => g.passages.map(({ kind, seconds }) => `${seconds} s ${kind}`).join(', ')],
  ['number strip', (g) => (g.strip ? 'on' : 'off')],
  ['draw', (g) => String(g.seed)],
];

/** What differs between two states of a game as far as a trial notices it: "cap 120 to 60 fps". Empty where a repeat is a repeat. */
export function gameDifferences(from: PracticeGame, to: PracticeGame): string[] {
  return noticed.flatMap(([name, of]) => {
    const [a, b] = [of(from), of(to)];
    return a === b ? [] : [`${name} ${a}, now ${b}`];
  });
}
