import {
  limitNames,
  type Brief,
  type Concern,
  type LimitName,
  type PracticeGame,
  type Purpose,
  type Recipe,
} from '@mellow/model';
import { sharesOf } from '../codec/passageMix';
import { repeatsBorne } from '../recipe/gameReach';
import { noticedSilenceS } from '../sound/levels';
import {
  formatBytes,
  formatCount,
  formatDbfs,
  formatDuration,
  formatMs,
  formatPercent,
  formatSeconds,
  framesPerSecond,
  periodUs,
  plural,
} from '../units';

/** What limits follow from. */
export interface Asked {
  brief: Brief;
  recipe: Recipe;
  game: PracticeGame;
}

/** A limit as it stands for one brief. */
export interface Limit {
  name: LimitName;
  /** In its own unit (`limitFacts`); null: it is not asked. */
  value: number | null;
  /** The brief's answer that it follows from; null: from game and recipe, or from the person's own word. */
  answer: number | null;
  /** The person has set it. */
  own: boolean;
}

type Follows = { value: number | null; answer: number | null };

export interface LimitFacts {
  /** "Play cost". */
  words: string;
  /** What it means, for the place where it can be changed. */
  meaning: string;
  /** What of "what matters" it belongs to; of several the first in the brief's order counts. Empty: before all of them. */
  concerns: readonly Concern[];
  /** Whether less of it, or more, is better. */
  better: 'less' | 'more';
  follows(asked: Asked): Follows;
  /** From here on it spoils the footage, or the game. */
  graveFrom(limit: number): number;
  /** From here on nothing else matters, whatever the brief's order; left out: it never goes so far. */
  ruinedFrom?: number;
  /** A value in words, in its unit. */
  format(value: number, asked: Asked): string;
  /** How it is changed by hand: what the field shows is the value times `shown`. */
  field: { unit: string; shown: number; least: number; most: number; step: number } | null;
}

const rankOf = (brief: Brief, concern: Concern): number => brief.matters.indexOf(concern);
const byRank = (brief: Brief, concern: Concern, values: readonly [number, number, number, number]): Follows => ({
  value: values[rankOf(brief, concern)] ?? values[3],
  answer: 4,
});
const always = (value: number | null): Follows => ({ value, answer: null });
const perCent = (most: number) => ({ unit: '%', shown: 100, least: 0, most, step: 0.5 });
const perMinute = (share: number, { recipe }: Asked): number => share * framesPerSecond(recipe.rate) * 60;

/** Structural similarity that is asked of the whole, and of its worst second (words of `qualityWord`, and one below). */
const similarity = ({ brief }: Asked): 'finest' | 'usual' | 'coarse' => {
  if (brief.purpose === 'master' || rankOf(brief, 'picture') === 0) return 'finest';
  return brief.purpose === 'light' || rankOf(brief, 'small-files') === 0 ? 'coarse' : 'usual';
};
const leastSimilarity = { finest: 0.985, usual: 0.955, coarse: 0.92 } as const;
const leastInWorstSecond = { finest: 0.955, usual: 0.92, coarse: 0.88 } as const;
const similarityField = { unit: 'SSIM', shown: 1, least: 0.5, most: 1, step: 0.005 };
const ssim = (value: number): string => value.toFixed(3);

/** Text of fewer lines cannot be read in a file (common practice; a trial shows it); a lesson is there to be read. */
export const leastTextPx = 9;
const leastTextOfLessonPx = 12;
const readBy: readonly Purpose[] = ['lesson', 'long-play'];

/** Pictures that stand still for up to so much of a take are a game's own pauses; a practice game loads as it is told to. */
const stillShare = 1 / 3;
function stillAllowed({ game }: Asked): Follows {
  if (game.facts.motion === 'calm') return always(null);
  const seconds = game.passages.reduce((sum, passage) => sum + passage.seconds, 0);
  const loading = game.kind === 'practice' ? sharesOf(game.passages, seconds).loading : 0;
  return always(Math.max(stillShare, Math.min(1, 0.15 + 0.55 * loading)));
}

export const limitFacts: Record<LimitName, LimitFacts> = {
  opens: {
    words: 'Opens in the editor',
    meaning: 'The editor of the brief opens the file.',
    concerns: [],
    better: 'less',
    follows: ({ brief }) => ({ value: brief.editor === 'anything' ? null : 0, answer: 3 }),
    graveFrom: () => 1,
    ruinedFrom: 1,
    format: (value) => (value >= 1 ? 'no' : 'yes'),
    field: null,
  },
  lost: {
    words: 'Lost frames',
    meaning: 'Frames that were due and are not in the file, of all that were due.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: ({ brief }) => always(brief.purpose === 'light' ? 0.002 : 0.0005),
    graveFrom: () => 0.01,
    ruinedFrom: 0.1,
    format: (value, asked) => `${minuteWords(perMinute(value, asked))} a minute`,
    field: { unit: '%', shown: 100, least: 0, most: 100, step: 0.01 },
  },
  hole: {
    words: 'Longest hole',
    meaning: 'Frames in a row that are not in the file.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: () => always(2),
    graveFrom: () => 15,
    format: (value) => plural(Math.round(value), 'frame'),
    field: { unit: 'frames', shown: 1, least: 0, most: 1000, step: 1 },
  },
  'play-cost': {
    words: 'Play cost',
    meaning: 'Share of its frames a second that the game loses while it is recorded.',
    concerns: ['game'],
    better: 'less',
    follows: ({ brief }) => byRank(brief, 'game', [0.05, 0.08, 0.12, 0.2]),
    graveFrom: (limit) => limit * 3,
    format: (value) => formatPercent(value),
    field: perCent(100),
  },
  slowest: {
    words: '1\u00a0% low',
    meaning: 'Share by which the slowest hundredth of the game’s frames becomes slower while it is recorded.',
    concerns: ['game'],
    better: 'less',
    follows: ({ brief }) => byRank(brief, 'game', [0.15, 0.2, 0.3, 0.4]),
    graveFrom: (limit) => limit * 3,
    format: (value) => formatPercent(value),
    field: perCent(100),
  },
  repeats: {
    words: 'Repeats',
    meaning: 'Frames for which the game had nothing new, as it was too slow or beat against the file.',
    concerns: ['picture'],
    better: 'less',
    follows: () => always(repeatsBorne),
    graveFrom: () => 0.25,
    format: (value) => `${formatPercent(value)} of the frames`,
    field: perCent(100),
  },
  still: {
    words: 'Still picture',
    meaning: 'Frames in which nothing moved at all.',
    concerns: ['picture'],
    better: 'less',
    follows: stillAllowed,
    graveFrom: () => 0.8,
    format: (value) => `${formatPercent(value)} of the frames`,
    field: perCent(100),
  },
  judder: {
    words: 'Judder',
    meaning:
      'By how much the steps of game time from picture to picture differ from the file’s, in per cent of a frame.',
    concerns: ['picture'],
    better: 'less',
    follows: () => always(0.5),
    graveFrom: () => 1,
    format: (value, { recipe }) => formatMs((value * periodUs(recipe.rate)) / 1000),
    field: { unit: '%', shown: 100, least: 0, most: 300, step: 5 },
  },
  length: {
    words: 'Length',
    meaning: 'Seconds that are missing of what was asked.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: () => always(0.75),
    graveFrom: () => 5,
    format: (value) => (value < 60 ? formatSeconds(value) : formatDuration(value)),
    field: { unit: 's', shown: 1, least: 0, most: 3600, step: 0.5 },
  },
  'as-asked': {
    words: 'As asked',
    meaning: 'Facts of the file that are not what the recipe says.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: () => always(0),
    graveFrom: () => Infinity,
    format: (value) => plural(value, 'fact'),
    field: null,
  },
  heard: {
    words: 'Sounds',
    meaning: 'Seconds of a sound that should be heard and is not in the file.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: () => always(noticedSilenceS),
    graveFrom: () => 2,
    format: (value) => formatSeconds(value),
    field: { unit: 's', shown: 1, least: 0, most: 3600, step: 0.05 },
  },
  clipped: {
    words: 'Clipping',
    meaning: 'Peak of the loudest lane; at full scale samples are cut off.',
    concerns: ['picture'],
    better: 'less',
    follows: () => always(-0.1),
    graveFrom: () => Infinity,
    format: (value) => formatDbfs(value),
    field: { unit: 'dBFS', shown: 1, least: -60, most: 0, step: 0.1 },
  },
  camera: {
    words: 'Camera',
    meaning: 'Seconds for which the camera brought no picture.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: ({ recipe }) => always(recipe.camera ? 0 : null),
    graveFrom: () => 2,
    format: (value) => formatSeconds(value),
    field: null,
  },
  picture: {
    words: 'Picture',
    meaning: 'Structural similarity of the file’s pictures to what the encoder was given, over the whole.',
    concerns: ['picture'],
    better: 'more',
    follows: (asked) => ({ value: leastSimilarity[similarity(asked)], answer: 4 }),
    graveFrom: (limit) => limit - 0.06,
    format: ssim,
    field: similarityField,
  },
  'worst-second': {
    words: 'Worst second',
    meaning: 'The same in the second where it is least.',
    concerns: ['picture'],
    better: 'more',
    follows: (asked) => ({ value: leastInWorstSecond[similarity(asked)], answer: 4 }),
    graveFrom: (limit) => limit - 0.1,
    format: ssim,
    field: similarityField,
  },
  'small-text': {
    words: 'Small text',
    meaning: 'Lines that the game’s smallest text has in the file.',
    concerns: ['picture'],
    better: 'more',
    follows: ({ brief, game }) => ({
      // Where nobody has to read it is not asked; what the game itself draws smaller cannot be asked of a file.
      value: !readBy.includes(brief.purpose)
        ? null
        : Math.min(brief.purpose === 'lesson' ? leastTextOfLessonPx : leastTextPx, game.facts.smallTextPx),
      answer: brief.purpose === 'lesson' ? null : 1,
    }),
    graveFrom: (limit) => limit * 0.75,
    format: (value) => `${value.toFixed(1)} px`,
    field: { unit: 'px', shown: 1, least: 0, most: 200, step: 1 },
  },
  'head-room': {
    words: 'Head-room',
    meaning: 'What the busiest station needs of its time in the busiest 1 %.',
    concerns: ['safety', 'picture'],
    better: 'less',
    follows: () => always(0.9),
    graveFrom: () => 1.3,
    format: (value) => formatPercent(value),
    field: perCent(300),
  },
  'drive-rate': {
    words: 'Write speed',
    meaning: 'What the drive writes beside the game, of what the file needs.',
    concerns: ['safety', 'picture'],
    better: 'more',
    // Busy passages need half as much again as the mean.
    follows: () => always(1.5),
    graveFrom: () => 1,
    format: (value) => `${value.toFixed(1)} times what is needed`,
    field: { unit: 'times', shown: 1, least: 1, most: 10, step: 0.1 },
  },
  room: {
    words: 'Room',
    meaning: 'Minutes that fit on the drives, with the copy for the editor.',
    concerns: ['safety'],
    better: 'more',
    follows: ({ brief }) => ({ value: brief.sessionMinutes, answer: 2 }),
    graveFrom: (limit) => limit * 0.5,
    format: (value) => minutesWords(value),
    field: { unit: 'min', shown: 1, least: 0, most: 1440, step: 1 },
  },
  size: {
    words: 'Size',
    meaning: 'Bytes an hour.',
    concerns: ['small-files'],
    better: 'less',
    follows: () => always(null),
    graveFrom: (limit) => limit * 2,
    format: (value) => `${formatBytes(value)}/h`,
    field: { unit: 'GB/h', shown: 1e-9, least: 0.01, most: 2000, step: 0.5 },
  },
  'if-it-dies': {
    words: 'If it dies',
    meaning: 'Seconds that are lost at most where recorder or PC die.',
    concerns: ['safety'],
    better: 'less',
    follows: ({ brief }) => byRank(brief, 'safety', [5, 5, 15, 60]),
    graveFrom: () => 300,
    format: (value) => (value < 60 ? formatSeconds(value) : formatDuration(value)),
    field: { unit: 's', shown: 1, least: 0, most: 86_400, step: 1 },
  },
  colours: {
    words: 'Colours',
    meaning: 'Nothing turns the game’s colours into others that cannot be had back.',
    concerns: ['picture'],
    better: 'less',
    follows: () => always(0),
    graveFrom: () => 1,
    format: (value) => (value > 0 ? 'changed for good' : 'as drawn'),
    field: null,
  },
};

function minuteWords(count: number): string {
  return count >= 9.95 ? formatCount(Math.round(count)) : count.toFixed(1);
}

function minutesWords(minutes: number): string {
  if (!Number.isFinite(minutes)) return 'without end';
  return minutes < 90 ? `${Math.floor(minutes)} min` : `${(minutes / 60).toFixed(1)} h`;
}

/** The limits of a brief, in the order of `limitNames`: its own where the person has set one, else what follows from the answers. */
export const limitsOf = (asked: Asked): Limit[] =>
  limitNames.map((name): Limit => {
    const own = asked.brief.limits[name];
    if (own !== undefined && limitFacts[name].field) return { name, value: own, answer: null, own: true };
    return { name, ...limitFacts[name].follows(asked), own: false };
  });

/** Where a limit stands in the brief's order; the smaller, the more it matters. */
export function rankOfLimit(name: LimitName, brief: Brief): number {
  const { concerns } = limitFacts[name];
  return concerns.length ? Math.min(...concerns.map((concern) => rankOf(brief, concern))) : -1;
}

/** "at most 5.0 %", "at least 0.955". */
export function limitWords({ name, value }: Pick<Limit, 'name' | 'value'>, asked: Asked): string {
  if (value === null) return 'not asked';
  const { better, format } = limitFacts[name];
  if (name === 'opens') return 'yes';
  if (name === 'colours') return 'as drawn';
  if (value === 0 && better === 'less') return 'none';
  return `at ${better === 'less' ? 'most' : 'least'} ${format(value, asked)}`;
}
