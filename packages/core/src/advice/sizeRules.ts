import { fitInto, isWide, sizeByLines } from '../picture';
import { formatSize } from '../units';
import { leastTextPx } from '../judge';
import { played } from './look';
import { setEncode, setSize } from '../recipe/change';
import type { Look, Rule } from './rule';
import { sizeTexts } from './sizeTexts';

const sameShape = ({ game, recipe }: Look): boolean =>
  Math.abs(recipe.size.widthPx / recipe.size.heightPx / (game.widthPx / game.heightPx) - 1) < 0.005;
const enlarges = ({ game, recipe }: Look): boolean =>
  recipe.size.widthPx > game.widthPx || recipe.size.heightPx > game.heightPx;
/** Lines at which the game's smallest text keeps a height. */
const linesForText = ({ game }: Look, px: number): number =>
  Math.ceil((px * game.heightPx) / game.facts.smallTextPx / 2) * 2;

export const sizeRules: Rule[] = [
  {
    id: 'stretched',
    station: 'size',
    weight: 'risk',
    check(look) {
      if (sameShape(look) || look.recipe.size.fit !== 'stretch') return null;
      const { stretch } = fitInto(look.game, look.recipe.size, 'stretch');
      return {
        ...sizeTexts.stretched({ stretch, look, game: look.game, file: look.recipe.size }),
        remedies: [
          {
            label: `Use ${formatSize(sizeByLines(look.game, look.recipe.size.heightPx).widthPx, look.recipe.size.heightPx)}`,
            change: setSize(look.recipe, sizeByLines(look.game, look.recipe.size.heightPx)),
          },
          { label: 'Leave bars', change: { ...look.recipe, size: { ...look.recipe.size, fit: 'bars' } } },
        ],
      };
    },
  },
  {
    id: 'bars',
    station: 'size',
    weight: 'note',
    check(look) {
      if (look.recipe.size.fit !== 'bars' || sameShape(look) || enlarges(look)) return null;
      const { barsPx } = fitInto(look.game, look.recipe.size, 'bars');
      if (barsPx.side + barsPx.top < 1) return null;
      const where = barsPx.top > 0 ? `${barsPx.top} px above and below` : `${barsPx.side} px at each side`;
      const own = sizeByLines(look.game, look.recipe.size.heightPx);
      return {
        ...sizeTexts.bars(where, look.game, look.recipe.size),
        remedies:
          own.widthPx <= look.game.widthPx
            ? [{ label: `Use ${formatSize(own.widthPx, own.heightPx)}`, change: setSize(look.recipe, own) }]
            : [],
      };
    },
  },
  {
    id: 'edges-cut',
    station: 'size',
    weight: 'cost',
    check(look) {
      if (look.recipe.size.fit !== 'fill' || sameShape(look)) return null;
      const { cutShare } = fitInto(look.game, look.recipe.size, 'fill');
      return {
        ...sizeTexts.edgesCut(cutShare),
        remedies: [{ label: 'Leave bars', change: { ...look.recipe, size: { ...look.recipe.size, fit: 'bars' } } }],
      };
    },
  },
  {
    id: 'enlarged',
    station: 'size',
    weight: 'cost',
    check(look) {
      if (!enlarges(look)) return null;
      const factor = (look.recipe.size.widthPx * look.recipe.size.heightPx) / (look.game.widthPx * look.game.heightPx);
      return {
        ...sizeTexts.enlarged(look, factor),
        remedies: [{ label: `Use ${played(look)}`, change: setSize(look.recipe, look.game) }],
      };
    },
  },
  {
    id: 'nearly-own-size',
    station: 'size',
    weight: 'cost',
    check(look) {
      const share = look.recipe.size.heightPx / look.game.heightPx;
      if (share >= 1 || share < 0.93 || !sameShape(look) || look.recipe.size.heightPx === look.brief.shownLines)
        return null;
      return {
        ...sizeTexts.nearlyOwnSize(look, share),
        remedies: [{ label: `Use ${played(look)}`, change: setSize(look.recipe, look.game) }],
      };
    },
  },
  {
    id: 'more-than-shown',
    station: 'size',
    weight: 'cost',
    check(look) {
      const { brief, recipe, game } = look;
      if (
        brief.destination === 'archive' ||
        brief.destination === 'undecided' ||
        brief.purpose === 'master' ||
        enlarges(look)
      )
        return null;
      if (recipe.size.heightPx <= brief.shownLines * 1.05) return null;
      const smaller = sizeByLines(game, brief.shownLines);
      const readable = (game.facts.smallTextPx * brief.shownLines) / game.heightPx >= leastTextPx;
      return {
        ...sizeTexts.moreThanShown({
          heightPx: recipe.size.heightPx,
          shownLines: brief.shownLines,
          widthPx: smaller.widthPx,
          smallerHeightPx: smaller.heightPx,
          filedWidthPx: recipe.size.widthPx,
        }),
        remedies:
          readable && brief.shownLines < game.heightPx * 0.93
            ? [{ label: `Use ${formatSize(smaller.widthPx, smaller.heightPx)}`, change: setSize(recipe, smaller) }]
            : [],
      };
    },
  },
  {
    id: 'text-too-small',
    station: 'size',
    weight: 'risk',
    check(look) {
      const { filePx, gamePx } = look.forecast.smallText;
      if (filePx >= leastTextPx) return null;
      const lines = Math.min(look.game.heightPx, linesForText(look, leastTextPx));
      const change =
        lines > look.recipe.size.heightPx
          ? setSize(look.recipe, lines >= look.game.heightPx * 0.93 ? look.game : sizeByLines(look.game, lines))
          : undefined;
      return {
        ...sizeTexts.textTooSmall(filePx, gamePx, lines),
        remedies: change
          ? [{ label: `Use ${formatSize(change.size.widthPx, change.size.heightPx)}`, change }]
          : [
              {
                label: 'Larger text',
                instruction: 'Set a larger interface in the game; a larger file would not help.',
              },
            ],
      };
    },
  },
  {
    id: 'quarter-pixels',
    station: 'size',
    weight: 'note',
    check(look) {
      const share = (look.recipe.size.widthPx * look.recipe.size.heightPx) / (look.game.widthPx * look.game.heightPx);
      if (share > 0.3 || look.brief.purpose === 'light') return null;
      return {
        ...sizeTexts.quarterPixels(share),
        remedies: [],
      };
    },
  },
  {
    id: 'hard-edges',
    station: 'size',
    weight: 'cost',
    check(look) {
      const factor = look.game.heightPx / look.recipe.size.heightPx;
      if (
        !look.forecast.work.size ||
        look.recipe.size.filter !== 'nearest' ||
        Math.abs(factor - Math.round(factor)) < 0.01
      )
        return null;
      return {
        ...sizeTexts.hardEdges(factor),
        remedies: [
          {
            label: 'Use the crisp filter',
            change: { ...look.recipe, size: { ...look.recipe.size, filter: 'lanczos' } },
          },
        ],
      };
    },
  },
  {
    id: 'other-display-shape',
    station: 'game',
    weight: 'note',
    check(look) {
      if (isWide(look.game) || look.game.widthPx / look.game.heightPx < 1.9 || look.brief.destination !== 'video-site')
        return null;
      const wide = look.machine?.displays.find((display) => isWide(display));
      return {
        ...sizeTexts.otherDisplayShape({
          game: look.game,
          look,
          widthPx: look.game.widthPx,
          heightPx: look.game.heightPx,
        }),
        remedies: wide
          ? [
              {
                label: `Play on ${wide.name}`,
                instruction: `${wide.name} has ${formatSize(wide.widthPx, wide.heightPx)}: play there, or set the game to a 16:9 size.`,
              },
            ]
          : [{ label: 'Play in 16:9', instruction: 'Set the game to a 16:9 size, such as 2560×1440 or 1920×1080.' }],
      };
    },
  },
  {
    id: 'lines-not-there',
    station: 'game',
    weight: 'note',
    check(look) {
      if (look.brief.shownLines < 1440 || look.game.heightPx >= look.brief.shownLines) return null;
      return {
        ...sizeTexts.linesNotThere(look.brief.shownLines, look.game.heightPx),
        remedies: [
          {
            label: 'Play larger',
            instruction: `Set the game to ${look.brief.shownLines} lines; the verdict of a trial then shows whether the file has them.`,
          },
        ],
      };
    },
  },
  {
    id: 'game-size-changed',
    station: 'game',
    weight: 'risk',
    check(look) {
      const tuned = look.context.calibration.loads[0]?.gameSize;
      if (!tuned || (tuned.widthPx === look.game.widthPx && tuned.heightPx === look.game.heightPx)) return null;
      return {
        ...sizeTexts.gameSizeChanged(look, tuned.widthPx, tuned.heightPx),
        remedies: [
          {
            label: 'Put it back',
            instruction: `Set the game to ${formatSize(tuned.widthPx, tuned.heightPx)} again, or make a trial at the new size.`,
          },
        ],
      };
    },
  },
  {
    id: 'full-range',
    station: 'encode',
    weight: 'cost',
    check(look) {
      if (look.recipe.encode.range !== 'full' || look.brief.purpose === 'master') return null;
      return {
        ...sizeTexts.fullRange,
        remedies: [{ label: 'Use limited range', change: setEncode(look.recipe, { range: 'limited' }) }],
      };
    },
  },
];
