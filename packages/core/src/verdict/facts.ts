import type { Fact, Recipe, Take } from '@mellow/model';
import { fileMatrix, fileRange } from '../codec/encoders';
import { bitrateOf } from '../storage';
import {
  dueFramesIn,
  formatCount,
  formatBitrate,
  formatBytes,
  formatFps,
  formatRate,
  formatSeconds,
  formatSize,
  framesPerSecond,
  plural,
} from '../units';
import { containerWords, effortWords, rateWords, soundCodecWords } from '../recipe/words';

type Input = Pick<Take, 'recipe' | 'facts' | 'summary' | 'lengthS' | 'end' | 'state' | 'game'>;

const codecNames: Record<string, string> = { h264: 'AVC', flac: 'FLAC', aac: 'AAC', opus: 'Opus', pcm_s16le: 'PCM' };

/** Each fact as asked and as found; the found side is read back from the file, never taken from the request. */
export function takeFacts(take: Input): Fact[] {
  const { recipe, facts, summary } = take;
  if (!facts || !summary) return [];
  const dueS = (summary.due * recipe.rate.den) / recipe.rate.num;
  const cutShort = take.end !== 'length';
  const askedS = (dueFramesIn(recipe.rate, take.lengthS) * recipe.rate.den) / recipe.rate.num;
  const foundS = (facts.picture.endUs ?? 0) / 1e6;
  // Frames lost at the very end shorten the file; they cannot be more than the longest hole.
  const tick = 1.5 / framesPerSecond(recipe.rate);
  const pictures = summary.fates['new'] ?? 0;
  const repeats = summary.fates['repeat'] ?? 0;
  const lost = summary.due - summary.filed;
  const picture = facts.picture;
  const sizeHolds = picture.widthPx === recipe.size.widthPx && picture.heightPx === recipe.size.heightPx;
  const rateFound = picture.rate ? framesPerSecond(picture.rate) : null;
  return [
    {
      name: 'Length',
      asked: formatSeconds(askedS),
      found: formatSeconds(foundS),
      holds: cutShort ? null : Math.abs(foundS - askedS) <= tick + summary.longestHole / framesPerSecond(recipe.rate),
    },
    {
      name: 'Picture',
      asked: `${formatSize(recipe.size.widthPx, recipe.size.heightPx)}, ${formatRate(recipe.rate)}`,
      found: `${sizeHolds ? 'equal' : formatSize(picture.widthPx, picture.heightPx)}, ${rateFound === null ? 'rate not told' : formatFps(rateFound)}`,
      holds: sizeHolds && rateFound !== null && Math.abs(rateFound - framesPerSecond(recipe.rate)) < 0.05,
    },
    {
      name: 'Frames',
      asked: plural(summary.due, 'frame') + ' due',
      found: `${formatCount(pictures)} new, ${plural(repeats, 'repeat')}`,
      holds: lost === 0,
    },
    {
      name: 'Gaps',
      asked: 'left as they are',
      found: lost === 0 ? 'none' : `${plural(lost, 'frame')} left open`,
      holds: lost === 0,
    },
    {
      name: 'Video',
      asked: `AVC, ${effortWords[recipe.encode.effort]}, ${rateWords(recipe.encode)}`,
      found: `${codecNames[picture.codec] ?? picture.codec} level ${(picture.level / 10).toFixed(1)}, ${formatBitrate(bitrateOf(picture.pictureBytes, dueS))}`,
      holds: picture.codec === 'h264',
    },
    {
      name: 'Size',
      asked:
        recipe.encode.rateControl === 'constant-quality'
          ? 'follows the picture'
          : `${formatBytes(askedBytesPerHour(recipe))} an hour`,
      found: `${formatBytes((facts.bytes / Math.max(dueS, 0.001)) * 3600)}/h, ${formatBytes(facts.bytes)} here`,
      holds: null,
    },
    {
      name: 'Colour',
      asked: colourWords(fileMatrix(recipe), fileRange(recipe)),
      found: colourHolds(recipe, picture) ? 'equal, and tagged so' : colourFound(picture),
      holds: colourHolds(recipe, picture),
    },
    {
      name: 'Sound',
      asked: soundWords(recipe.lanes.map((l) => soundCodecWords[l.codec])),
      found: soundWords(facts.lanes.map((l) => codecNames[l.codec] ?? l.codec)),
      holds:
        facts.lanes.length === recipe.lanes.length && facts.lanes.every((l, i) => l.name === recipe.lanes[i]?.name),
    },
    {
      name: 'File',
      asked: containerWords[recipe.container].name,
      found: take.state === 'rescued' ? 'rescued and read' : 'closed and read',
      holds: facts.durationUs !== null,
    },
  ];
}

function soundWords(codecs: string[]): string {
  if (!codecs.length) return 'no lane';
  return `${plural(codecs.length, 'lane')}, ${[...new Set(codecs)].join(' and ')}`;
}

const matrixWords = { rgb: 'red, green, blue', bt601: 'Rec. 601', bt709: 'Rec. 709' } as const;
/** The names that streams carry for each matrix (ITU-T H.273: 0; 5 and 6 are the same; 1). */
const matrixTags = { rgb: ['rgb', 'gbr'], bt601: ['bt470bg', 'smpte170m'], bt709: ['bt709'] } as const;

const colourWords = (matrix: keyof typeof matrixWords, range: 'limited' | 'full'): string =>
  `${matrixWords[matrix]}, ${range}`;

type FoundPicture = NonNullable<Take['facts']>['picture'];

const colourHolds = (recipe: Recipe, picture: FoundPicture): boolean =>
  (matrixTags[fileMatrix(recipe)] as readonly string[]).includes(picture.matrix) &&
  picture.range === (fileRange(recipe) === 'full' ? 'pc' : 'tv');

function colourFound(picture: FoundPicture): string {
  const known = (Object.keys(matrixTags) as (keyof typeof matrixTags)[]).find((matrix) =>
    (matrixTags[matrix] as readonly string[]).includes(picture.matrix),
  );
  const range = { pc: 'full', tv: 'limited' }[picture.range] ?? 'range not tagged';
  return `${known ? matrixWords[known] : picture.matrix}, ${range}`;
}

function askedBytesPerHour(recipe: Recipe): number {
  return ((recipe.encode.bitrateKbps * 1000) / 8) * 3600;
}
