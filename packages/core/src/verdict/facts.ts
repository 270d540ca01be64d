import type { Fact, Recipe, Take } from '@mellow/model';
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
      asked: `Rec. 709, ${recipe.encode.range}`,
      found: colourFound(picture, recipe.encode.range),
      holds: picture.matrix === 'bt709' && picture.range === (recipe.encode.range === 'full' ? 'pc' : 'tv'),
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

function colourFound(picture: NonNullable<Take['facts']>['picture'], asked: Recipe['encode']['range']): string {
  if (picture.matrix === 'bt709' && picture.range === (asked === 'full' ? 'pc' : 'tv')) return 'equal, and tagged so';
  const matrix = picture.matrix === 'bt709' ? 'Rec. 709' : picture.matrix;
  const range = picture.range === 'pc' ? 'full' : picture.range === 'tv' ? 'limited' : 'range not tagged';
  return `${matrix}, ${range}`;
}

function askedBytesPerHour(recipe: Recipe): number {
  return ((recipe.encode.bitrateKbps * 1000) / 8) * 3600;
}
