import {
  type Station,
  isGrabbed,
  type Camera,
  type CameraWhere,
  type Container,
  type Effort,
  type EyeTuning,
  type Fit,
  type Lane,
  type LeadIn,
  type Matrix,
  type Parts,
  type PixelKind,
  type Priority,
  type Profile,
  type RateControl,
  type Recipe,
  type ScalingFilter,
  type Source,
  type Subfolder,
  type Take,
  type TakeKind,
} from '@mellow/model';
import { filedSize } from '../picture/camera';
import { formatBytes, formatKbps, formatPercent, formatRate, formatSize, plural } from '../units';

/** Words for the values of a recipe; the screens and sentences take them from here. */
export const filterWords: Record<ScalingFilter, { result: string; method: string }> = {
  bilinear: { result: 'quick', method: 'bilinear' },
  bicubic: { result: 'even', method: 'bicubic' },
  area: { result: 'soft', method: 'area' },
  lanczos: { result: 'crisp', method: 'Lanczos' },
  spline: { result: 'smooth', method: 'spline' },
  nearest: { result: 'hard edges', method: 'nearest' },
};

export const effortWords: Record<Effort, string> = {
  lightest: 'lightest',
  light: 'light',
  middle: 'middle',
  thorough: 'thorough',
  'most-thorough': 'most thorough',
};

export const rateControlWords: Record<RateControl, string> = {
  'constant-quality': 'constant quality',
  'constant-quantiser': 'constant quantiser',
  'constant-bitrate': 'constant bitrate',
  'variable-bitrate': 'variable bitrate',
  lossless: 'lossless',
  'picture-by-picture': 'picture by picture',
};

export const fitWords: Record<Fit, string> = { bars: 'bars', fill: 'edges cut off', stretch: 'stretched' };
export const pixelWords: Record<PixelKind, string> = {
  '4:2:0': '4:2:0',
  '4:2:0-10': '4:2:0, 10 bit',
  '4:4:4': '4:4:4',
  rgb: 'full RGB',
};
export const matrixWords: Record<Matrix, string> = { bt709: 'Rec. 709', bt601: 'Rec. 601' };
export const eyeTuningWords: Record<EyeTuning, string> = { own: 'the encoder’s own', on: 'on', off: 'off' };
export const priorityWords: Record<Priority, string> = {
  usual: 'as the game',
  above: 'before the game',
  below: 'after the game',
};
export const lookAheadWords = (frames: number | null): string =>
  frames === null ? 'the encoder’s own' : plural(frames, 'picture');
/** "the first that works", "card 2": people count from one. */
export const cardWords = (card: number | null): string => (card === null ? 'the first that works' : `card ${card + 1}`);
export const profileWords: Record<Profile, string> = { high: 'High', main: 'Main', baseline: 'Baseline' };
export const subfolderWords: Record<Subfolder, string> = {
  none: 'none',
  day: 'per day',
  game: 'per game',
  'game-day': 'per game and day',
  setup: 'per setup',
};

export const containerWords: Record<Container, { name: string; safety: string; suffix: string; survives: boolean }> = {
  matroska: { name: 'Matroska', safety: 'survives a crash', suffix: 'mkv', survives: true },
  'fragmented-mp4': { name: 'Fragmented MP4', safety: 'survives a crash', suffix: 'mp4', survives: true },
  mp4: { name: 'MP4', safety: 'lost in a power cut', suffix: 'mp4', survives: false },
};

/** "one file", "a new file every 10 min", "files of 4 GB". */
export function partsWords(parts: Parts): string {
  if (parts.by === 'none') return 'one file';
  if (parts.by === 'striped') return parts.shares === 'equal' ? 'striped in equal shares' : 'striped by measured speed';
  return parts.by === 'length'
    ? `a new file every ${parts.minutes} min`
    : `files of ${formatBytes(parts.megabytes * 1e6)}`;
}

export const soundCodecWords: Record<Lane['codec'], string> = { flac: 'FLAC', pcm: 'PCM', aac: 'AAC', opus: 'Opus' };

/** "quality 20", "9 000 kb/s", "12 000 up to 18 000 kb/s". */
export function rateWords(encode: Recipe['encode']): string {
  if (encode.rateControl === 'constant-quality') return `quality ${encode.quality}`;
  if (encode.rateControl === 'constant-quantiser') return `quantiser ${encode.quality}`;
  if (encode.rateControl === 'lossless') return 'lossless';
  if (encode.rateControl === 'picture-by-picture') return `quantiser ${encode.quantiser}`;
  if (encode.rateControl === 'constant-bitrate') return `constant ${formatKbps(encode.bitrateKbps)}`;
  return `${formatKbps(encode.bitrateKbps)}, at most ${formatKbps(encode.ceilingKbps)}`;
}

/** The stations of the path. */
export const stationWords: Record<Station, string> = {
  game: 'Game',
  capture: 'Capture',
  size: 'Size',
  encode: 'Encode',
  pack: 'Pack',
  drive: 'Drive',
};

export const leadInWords: Record<LeadIn, string> = {
  none: 'none',
  silence: 'a quiet second',
  mark: 'a quiet second and three marks',
};

export const laneWords = (lane: Lane): string =>
  lane.codec === 'aac' || lane.codec === 'opus'
    ? `${lane.name}, ${soundCodecWords[lane.codec]} ${formatKbps(lane.bitrateKbps)}`
    : `${lane.name}, ${soundCodecWords[lane.codec]}`;

export const cameraWhereWords: Record<CameraWhere, string> = {
  over: 'over the game',
  beside: 'beside the game',
  'own-file': 'in a file of its own',
};

/** "none", "Desk camera over the game, 25 % wide". */
export function cameraWords(camera: Camera | null): string {
  if (!camera) return 'none';
  const name = camera.from.kind === 'device' ? camera.from.name : 'stand-in camera';
  const place = `${name} ${cameraWhereWords[camera.where]}`;
  if (camera.where !== 'over') return place;
  const opacity = camera.opacity < 1 ? `, ${formatPercent(camera.opacity)} opaque` : '';
  return `${place}, ${formatPercent(camera.widthShare)} wide, ${formatPercent(camera.leftShare)} from left, ${formatPercent(camera.topShare)} from above${opacity}`;
}

/** Size of the file's picture. */
export function sizeWords(recipe: Pick<Recipe, 'size' | 'camera'>): string {
  const { widthPx, heightPx } = filedSize(recipe);
  return formatSize(widthPx, heightPx);
}

export const recipeHeadline = (recipe: Recipe): string =>
  `${sizeWords(recipe)} at ${formatRate(recipe.rate)}, ${rateWords(recipe.encode)}`;

/** What a take's pictures come from. */
export function sourceWords(source: Source): string {
  const pointer = isGrabbed(source) && !source.pointer ? ', without the pointer' : '';
  switch (source.kind) {
    case 'practice':
      return 'the practice game';
    case 'display':
      return `display ${source.name}${pointer}`;
    case 'region':
      return `${formatSize(source.widthPx, source.heightPx)} of the screen from ${source.leftPx}, ${source.topPx}${pointer}`;
    case 'window':
      return `the window “${source.title}”${pointer}`;
    case 'sample':
      return `the sample “${source.name}”`;
  }
}

export const takeKindWords: Record<TakeKind, string> = { trial: 'trial', sample: 'sample', full: 'take', clip: 'clip' };

/** "trial 4", "sample 2", "take 7". */
export const takeName = ({ kind, number }: Pick<Take, 'kind' | 'number'>): string => `${takeKindWords[kind]} ${number}`;
