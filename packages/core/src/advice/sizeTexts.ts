import type { PracticeGame, Recipe } from '@mellow/model';
import { leastTextPx } from '../judge';
import { played, size } from './look';
import type { Look } from './rule';
import { shapeName } from '../picture';
import { formatPercent, formatSize } from '../units';

/** What the rules of sizeRules.ts say. */
export const sizeTexts = {
  stretched: ({
    stretch,
    look,
    game,
    file,
  }: {
    stretch: number;
    look: Look;
    game: PracticeGame;
    file: Recipe['size'];
  }) => ({
    title: `The picture is stretched ${stretch.toFixed(3)} times in width`,
    text: `${played(look)} is ${shapeName(game)}, the file ${shapeName(file)}. Circles become ovals, and no editor takes it back without loss.`,
  }),
  bars: (where: string, game: PracticeGame, file: Recipe['size']) => ({
    title: `Bars of ${where}`,
    text: `${shapeName(game)} lies in ${shapeName(file)} whole. A file of the game's own shape has no bars; a player adds them where the screen is another shape.`,
  }),
  edgesCut: (cutShare: number) => ({
    title: `${formatPercent(cutShare)} of the game's picture is cut off`,
    text: 'What lies at the edges, often health and maps, is not in the file and cannot be brought back.',
  }),
  enlarged: (look: Look, factor: number) => ({
    title: `${played(look)} is enlarged to ${size(look)}`,
    text: `${factor.toFixed(2)} times the pixels to encode, and no more detail than was drawn.`,
  }),
  nearlyOwnSize: (look: Look, share: number) => ({
    title: `${size(look)} is nearly the game's own ${played(look)}`,
    text: `Scaling by ${share.toFixed(2)} softens every edge and saves ${formatPercent(1 - share * share)} of the pixels.`,
  }),
  moreThanShown: ({
    heightPx,
    shownLines,
    widthPx,
    smallerHeightPx,
    filedWidthPx,
  }: {
    heightPx: number;
    shownLines: number;
    widthPx: number;
    smallerHeightPx: number;
    filedWidthPx: number;
  }) => ({
    title: `${heightPx} lines are filed, ${shownLines} are shown`,
    text: `The destination scales it down anyway. ${formatPercent(1 - (widthPx * smallerHeightPx) / (filedWidthPx * heightPx))} of the pixels can go, scaled by a filter of your choice.`,
  }),
  textTooSmall: (filePx: number, gamePx: number, lines: number) => ({
    title: `The smallest text is ${filePx.toFixed(1)} px high in the file`,
    text: `${gamePx} px in the game. Under ${leastTextPx} px it can hardly be read; ${lines} lines keep it.`,
  }),
  quarterPixels: (share: number) => ({
    title: `${formatPercent(share)} of the game's pixels are kept`,
    text: 'It relieves a weak PC. Shown full screen it is enlarged again, and each pixel covers several.',
  }),
  hardEdges: (factor: number) => ({
    title: `Nearest leaves pixels out at a factor of ${factor.toFixed(2)}`,
    text: 'Thin lines and letters come and go as they move. It suits whole factors only.',
  }),
  otherDisplayShape: ({
    game,
    look,
    widthPx,
    heightPx,
  }: {
    game: PracticeGame;
    look: Look;
    widthPx: number;
    heightPx: number;
  }) => ({
    title: `${shapeName(game)} leaves bars for most viewers`,
    text: `Most screens are 16:9; ${played(look)} fills ${formatPercent(16 / 9 / (widthPx / heightPx))} of their height.`,
  }),
  linesNotThere: (shownLines: number, heightPx: number) => ({
    title: `${shownLines} lines are wanted, the game draws ${heightPx}`,
    text: 'A larger file would only hold enlarged pixels.',
  }),
  gameSizeChanged: (look: Look, widthPx: number, heightPx: number) => ({
    title: `The game is at ${played(look)}, the recipe was tuned at ${formatSize(widthPx, heightPx)}`,
    text: 'Loads, size and legibility were measured at the other size and do not hold now.',
  }),
  fullRange: {
    title: 'Full range needs players that read the tag',
    text: 'It is tagged here. A program that ignores the tag shows it crushed: black loses detail. Limited range looks the same and is safe everywhere.',
  },
};
