import { type CameraReport, type Fact, type Likeness, type Recipe, type SoundReport, type Take } from '@mellow/model';
import { filedSize } from '../picture/camera';
import { encoderFacts, fileMatrix, fileRange } from '../codec/encoders';
import { qualityWord } from '../codec/pictureQuality';
import { sampleRateHz } from '../codec/soundRates';
import { noticedSilenceS } from '../sound';
import { bitrateOf } from '../storage';
import {
  dueFramesIn,
  formatBitrate,
  formatBytes,
  formatCount,
  formatDbfs,
  formatFps,
  formatKbps,
  formatMs,
  formatRate,
  formatSeconds,
  formatSize,
  framesPerSecond,
  listWords,
  plural,
} from '../units';
import {
  cameraWords,
  containerWords,
  effortWords,
  pixelWords,
  rateWords,
  sizeWords,
  soundCodecWords,
  sourceWords,
} from '../recipe/words';
import {
  codecOfLane,
  codecOfStandard,
  formatOfContainer,
  laneCodecName,
  levelWords,
  pixelKindOf,
  standardOf,
} from './foundWords';

type Input = Pick<
  Take,
  | 'recipe'
  | 'source'
  | 'facts'
  | 'summary'
  | 'lengthS'
  | 'end'
  | 'state'
  | 'game'
  | 'likeness'
  | 'unpaced'
  | 'sounds'
  | 'camera'
>;

/** A take with what its file says of itself and what its ledger adds up to. */
interface Read {
  take: Input;
  recipe: Recipe;
  facts: NonNullable<Take['facts']>;
  /** Null for a clip: it was cut from what had a ledger. */
  summary: Summary | null;
  dueS: number;
}
type Summary = NonNullable<Take['summary']>;
type LedgerRead = Read & { summary: Summary };

/** One line of the table: what was asked, how it is found, and when it holds (null: nothing was asked of it). */
interface FactRow<R extends Read = Read> {
  name: string;
  asked(read: R): string;
  found(read: R): string;
  holds(read: R): boolean | null;
  /** Left out where it is false: nothing was measured. */
  applies?(read: R): boolean;
}

/** Facts whose failing the losses explain already. */
export const lossFacts: readonly string[] = ['Frames', 'Gaps', 'Encode'];

/** A set rate is kept within so much over takes that are long enough to tell. */
const rateSlack = 0.2;
const leastSecondsForRate = 8;
const leastSoundSeconds = 0.25;

const lostOf = ({ summary }: Read): number => (summary ? summary.due - summary.filed : 0);
const hasLedger = (read: Read): read is LedgerRead => read.summary !== null;
/** A row that a take without a ledger has not. */
const ofLedger = ({ name, asked, found, holds, applies }: FactRow<LedgerRead>): FactRow => ({
  name,
  applies: (read) => hasLedger(read) && (applies?.(read) ?? true),
  asked: (read) => (hasLedger(read) ? asked(read) : ''),
  found: (read) => (hasLedger(read) ? found(read) : ''),
  holds: (read) => (hasLedger(read) ? holds(read) : null),
});
const standardAsked = ({ recipe }: Read) => encoderFacts[recipe.encode.encoder].standard;
const pictureBitrate = ({ facts, dueS }: Read): number => bitrateOf(facts.picture.pictureBytes, dueS);

/** The table. The found side is read back from the file, never taken from the request. */
const rows: readonly FactRow[] = [
  {
    name: 'Length',
    asked: ({ take, recipe }) =>
      take.lengthS === null
        ? 'until it is stopped'
        : formatSeconds((dueFramesIn(recipe.rate, take.lengthS) * recipe.rate.den) / recipe.rate.num),
    found: ({ facts }) => formatSeconds((facts.picture.endUs ?? 0) / 1e6),
    holds: lengthHolds,
  },
  {
    name: 'Picture',
    asked: ({ recipe }) => `${sizeWords(recipe)}, ${formatRate(recipe.rate)}`,
    found: (read) => {
      const { picture } = read.facts;
      const rate = picture.rate ? formatFps(framesPerSecond(picture.rate)) : 'rate not told';
      return `${sizeHolds(read) ? 'equal' : formatSize(picture.widthPx, picture.heightPx)}, ${rate}`;
    },
    holds: (read) => sizeHolds(read) && rateHolds(read),
  },
  ofLedger({
    name: 'Source',
    applies: ({ take }) => take.source.kind !== 'practice',
    asked: ({ take }) => sourceWords(take.source),
    found: ({ summary }) => `${summary.pacing.newPerSecond.toFixed(1)} new pictures a second`,
    holds: () => null,
  }),
  ofLedger({
    name: 'Frames',
    asked: ({ summary }) => `${plural(summary.due, 'frame')} due`,
    found: ({ summary }) =>
      `${formatCount(summary.fates['new'] ?? 0)} new, ${plural(summary.fates['repeat'] ?? 0, 'repeat')}`,
    holds: (read) => lostOf(read) === 0,
  }),
  ofLedger({
    name: 'Gaps',
    asked: () => 'left as they are',
    found: (read) => (lostOf(read) === 0 ? 'none' : `${plural(lostOf(read), 'frame')} left open`),
    holds: (read) => lostOf(read) === 0,
  }),
  {
    name: 'Video',
    asked: (read) => {
      const { encode } = read.recipe;
      const effort = encoderFacts[encode.encoder].efforts.length ? `${effortWords[encode.effort]}, ` : '';
      return `${standardAsked(read)}, ${effort}${rateWords(encode)}`;
    },
    found: (read) => {
      const { picture } = read.facts;
      const level = levelWords(picture);
      return `${standardOf(picture.codec)}${level ? ` level ${level}` : ''}, ${formatBitrate(pictureBitrate(read))}`;
    },
    holds: (read) => read.facts.picture.codec === codecOfStandard[standardAsked(read)],
  },
  {
    name: 'Look',
    applies: ({ take }) => take.likeness !== null,
    asked: ({ recipe }) => lookAsked(recipe),
    found: ({ take: { likeness } }) => (likeness ? lookFound(likeness) : ''),
    holds: ({ recipe, take: { likeness } }) =>
      recipe.encode.rateControl === 'lossless' && likeness ? likeness.exact : null,
  },
  ofLedger({
    name: 'Encode',
    applies: ({ take }) => take.unpaced !== null,
    asked: ({ take }) => `${formatMs(take.summary?.loads.encode?.budgetMs ?? 0)} a frame at most`,
    found: ({ take: { unpaced } }) =>
      unpaced
        ? `${formatMs(unpaced.clockUs / 1000)}, measured afterwards on ${formatCount(unpaced.frames)} frames without a clock`
        : '',
    holds: ({ summary }) => {
      const load = summary.loads.encode;
      return load ? load.busiestMs <= load.budgetMs : null;
    },
  }),
  {
    name: 'Size',
    asked: (read) => sizeAsked(read.recipe),
    found: ({ facts, dueS }) =>
      `${formatBytes((facts.bytes / Math.max(dueS, 0.001)) * 3600)}/h, ${formatBytes(facts.bytes)} here`,
    holds: bitrateHolds,
  },
  {
    name: 'Key pictures',
    asked: ({ recipe }) =>
      encoderFacts[recipe.encode.encoder].keyDistance
        ? `one in ${formatCount(recipe.encode.keyDistanceFrames)}, at least`
        : 'every picture',
    found: ({ facts }) =>
      facts.picture.keys >= facts.picture.packets
        ? 'every picture'
        : `${formatCount(facts.picture.keys)} of ${formatCount(facts.picture.packets)}`,
    holds: ({ recipe, facts: { picture } }) =>
      encoderFacts[recipe.encode.encoder].keyDistance
        ? picture.keys * recipe.encode.keyDistanceFrames >= picture.packets
        : picture.keys === picture.packets,
  },
  {
    name: 'Colour',
    asked: ({ recipe }) => colourWords(recipe.encode.pixels, fileMatrix(recipe), fileRange(recipe)),
    found: (read) => (colourHolds(read) ? 'equal, and tagged so' : colourFound(read)),
    holds: colourHolds,
  },
  {
    name: 'Sound',
    asked: ({ recipe }) => soundWords(recipe.lanes.map((lane) => soundCodecWords[lane.codec])),
    found: soundFound,
    holds: soundHolds,
  },
  {
    name: 'Heard',
    applies: ({ take }) => take.sounds.length > 0,
    asked: ({ take }) => listWords(take.sounds.map(({ name }) => name)),
    found: ({ take }) => listWords(take.sounds.map(heardWords)),
    holds: ({ take }) => take.sounds.every(({ silenceS }) => silenceS < noticedSilenceS),
  },
  {
    name: 'Camera',
    applies: ({ take }) => take.camera !== null,
    asked: ({ take }) => cameraWords(take.recipe.camera),
    found: ({ take }) => seenWords(take.camera),
    holds: ({ take }) => !take.camera || (take.camera.pictures > 0 && take.camera.awayS === 0),
  },
  {
    name: 'File',
    asked: ({ recipe }) => containerWords[recipe.container].name,
    found: (read) => (formatHolds(read) ? `${closedWords(read)} and read` : `${read.facts.formatName}, read`),
    holds: (read) => formatHolds(read) && read.facts.durationUs !== null,
  },
];

/** "181 pictures", "12 pictures, away for 3.40 s". */
function seenWords(camera: CameraReport | null): string {
  if (!camera?.pictures) return 'nothing came';
  const away = camera.awayS > 0 ? `, away for ${formatSeconds(camera.awayS)}` : '';
  return `${plural(camera.pictures, 'picture')}${camera.standIn ? ', drawn' : ''}${away}`;
}

/** "48 kHz", "44.1 kHz resampled, clock 31 ppm fast", "quiet at −61.0 dBFS". */
function heardWords({ rateHz, driftPpm, silenceS, floorDbfs }: SoundReport): string {
  if (rateHz === 0) return 'nothing came';
  const drift = driftPpm === null ? 0 : Math.round(driftPpm);
  return [
    `${rateHz / 1000} kHz${rateHz === sampleRateHz ? '' : ' resampled'}`,
    drift === 0 ? null : `clock ${Math.abs(drift)} ppm ${drift > 0 ? 'fast' : 'slow'}, made up for`,
    silenceS >= noticedSilenceS ? `${formatSeconds(silenceS)} missing` : null,
    floorDbfs === null ? null : `quiet at ${formatDbfs(floorDbfs)}`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** Each fact of a take as asked and as found, with whether it holds. */
export function takeFacts(take: Input): Fact[] {
  const { recipe, facts, summary } = take;
  if (!facts) return [];
  const dueS = summary ? (summary.due * recipe.rate.den) / recipe.rate.num : (facts.picture.endUs ?? 0) / 1e6;
  const read: Read = { take, recipe, facts, summary, dueS };
  const there = rows.filter((row) => row.applies?.(read) ?? true);
  return there.map((row) => ({
    name: row.name,
    asked: row.asked(read),
    found: row.found(read),
    holds: row.holds(read),
  }));
}

function closedWords({ take }: Read): string {
  return take.state === 'rescued' ? 'rescued' : 'closed';
}

/** Frames lost at the very end shorten the file: by a few it is as long as was asked, by more than half a second it is not. */
function lengthHolds({ take, recipe, facts, summary }: Read): boolean | null {
  if (take.end !== 'length' || take.lengthS === null) return null;
  const fps = framesPerSecond(recipe.rate);
  const askedS = dueFramesIn(recipe.rate, take.lengthS) / fps;
  const lostAtEndS = Math.min((summary?.longestHole ?? 0) / fps, 0.5);
  return Math.abs((facts.picture.endUs ?? 0) / 1e6 - askedS) <= 1.5 / fps + lostAtEndS;
}

function sizeHolds({ recipe, facts }: Read): boolean {
  const { widthPx, heightPx } = filedSize(recipe);
  return facts.picture.widthPx === widthPx && facts.picture.heightPx === heightPx;
}

/** A file of one picture says nothing of its rate. */
function rateHolds({ recipe, facts }: Read): boolean {
  return (
    facts.picture.packets < 2 ||
    (facts.picture.rate !== null &&
      Math.abs(framesPerSecond(facts.picture.rate) / framesPerSecond(recipe.rate) - 1) < 0.0005)
  );
}

function lookAsked({ encode }: Recipe): string {
  if (encode.rateControl === 'lossless') return 'every sample as it was given';
  const set = encode.rateControl === 'constant-bitrate' || encode.rateControl === 'variable-bitrate';
  return `follows the ${set ? 'bitrate' : 'quality number'}`;
}

function lookFound({ exact, ssim, worstSecondSsim, pictures }: Likeness): string {
  if (exact) return `exact in ${plural(pictures, 'picture')}`;
  return `SSIM ${ssim.toFixed(3)}, worst second ${worstSecondSsim.toFixed(3)}: ${qualityWord(ssim)}`;
}

function sizeAsked({ encode }: Recipe): string {
  if (encode.rateControl === 'constant-bitrate') return `constant ${formatKbps(encode.bitrateKbps)} of picture`;
  if (encode.rateControl === 'variable-bitrate') return `${formatKbps(encode.bitrateKbps)} of picture in the mean`;
  return 'follows the picture';
}

/** Quiet scenes may stay below a variable rate; a constant one is filled up, where the encoder can. */
function bitrateHolds(read: Read): boolean | null {
  const { rateControl, bitrateKbps } = read.recipe.encode;
  if (read.dueS < leastSecondsForRate || lostOf(read) > (read.summary?.due ?? 0) * 0.02) return null;
  const ratio = pictureBitrate(read) / (bitrateKbps * 1000);
  if (rateControl === 'constant-bitrate') return Math.abs(ratio - 1) <= rateSlack;
  return rateControl === 'variable-bitrate' ? ratio <= 1 + rateSlack : null;
}

const matrixWords = { rgb: 'red, green, blue', bt601: 'Rec. 601', bt709: 'Rec. 709' } as const;
/** The names that streams carry for each matrix (ITU-T H.273: 0; 5 and 6 are the same; 1). */
const matrixTags = { rgb: ['rgb', 'gbr'], bt601: ['bt470bg', 'smpte170m'], bt709: ['bt709'] } as const;
type Matrix = keyof typeof matrixTags;

function colourWords(pixels: Recipe['encode']['pixels'], matrix: Matrix, range: 'limited' | 'full'): string {
  return `${pixels === 'rgb' ? '' : `${pixelWords[pixels]}, `}${matrixWords[matrix]}, ${range}`;
}

const hasTag = (matrix: Matrix, tag: string): boolean => (matrixTags[matrix] as readonly string[]).includes(tag);

/** A layout of red, green and blue needs no tag of a matrix, and its range is full where it says nothing else. */
function colourHolds({ recipe, facts: { picture } }: Read): boolean {
  if (pixelKindOf(picture.pixelFormat) !== recipe.encode.pixels) return false;
  const full = fileRange(recipe) === 'full';
  if (recipe.encode.pixels === 'rgb') return picture.range !== 'tv';
  return hasTag(fileMatrix(recipe), picture.matrix) && picture.range === (full ? 'pc' : 'tv');
}

function colourFound({ facts: { picture } }: Read): string {
  const pixels = pixelKindOf(picture.pixelFormat);
  const matrix = (Object.keys(matrixTags) as Matrix[]).find((name) => hasTag(name, picture.matrix));
  const range = { pc: 'full', tv: 'limited' }[picture.range] ?? 'range not tagged';
  return `${pixels ? pixelWords[pixels] : picture.pixelFormat}, ${matrix ? matrixWords[matrix] : picture.matrix}, ${range}`;
}

function soundWords(codecs: readonly string[]): string {
  return codecs.length ? `${plural(codecs.length, 'lane')}, ${listWords([...new Set(codecs)])}` : 'no lane';
}

/** Names of lanes that do not reach to the end of the picture. */
const shortLanes = ({ facts }: Read): string[] =>
  facts.lanes.flatMap((lane) =>
    (facts.picture.endUs ?? 0) - lane.durationUs > leastSoundSeconds * 1e6 ? [lane.name || 'one lane'] : [],
  );

function soundFound(read: Read): string {
  const short = shortLanes(read);
  const words = soundWords(read.facts.lanes.map((lane) => laneCodecName(lane.codec)));
  return short.length ? `${words}; ${listWords(short)} too short` : words;
}

function soundHolds(read: Read): boolean {
  const { recipe, facts } = read;
  return (
    facts.lanes.length === recipe.lanes.length &&
    facts.lanes.every((found, i) => {
      const lane = recipe.lanes[i];
      return lane !== undefined && found.name === lane.name && found.codec === codecOfLane[lane.codec];
    }) &&
    !shortLanes(read).length
  );
}

function formatHolds({ recipe, facts }: Read): boolean {
  return facts.formatName.split(',').includes(formatOfContainer[recipe.container]);
}
