import { nameInWords } from '../storage/fileName';
import type { PathPlaceName, Recipe } from '@mellow/model';
import { encoderFacts, encoderWords, isLossless } from '../codec/encoders';
import { formatKbps, formatRate, formatSize, plural } from '../units';
import { soundInputWords } from '../sound/soundWords';
import {
  cameraWords,
  cardWords,
  containerWords,
  effortWords,
  eyeTuningWords,
  filterWords,
  fitWords,
  laneWords,
  leadInWords,
  lookAheadWords,
  matrixWords,
  partsWords,
  pixelWords,
  priorityWords,
  profileWords,
  rateControlWords,
  sourceWords,
  subfolderWords,
} from './words';

/** Every setting of a recipe by its key: where it is set, what it is called, and how it is moved from one recipe to another. */
export const settingKeys = [
  'source',
  'rate',
  'size',
  'filter',
  'fit',
  'camera',
  'encoder',
  'effort',
  'rateControl',
  'quality',
  'bitrate',
  'ceiling',
  'quantiser',
  'keyDistance',
  'groups',
  'bFrames',
  'lowDelay',
  'pixels',
  'profile',
  'threads',
  'range',
  'matrix',
  'lookAhead',
  'eyeTuning',
  'easyDecode',
  'card',
  'priority',
  'lanes',
  'sources',
  'sounds',
  'leadIn',
  'container',
  'rewrap',
  'drive',
  'nextDrives',
  'parts',
  'subfolder',
  'name',
  'ceilingMinutes',
] as const;
export type SettingKey = (typeof settingKeys)[number];

interface SettingFacts {
  station: PathPlaceName;
  name: string;
  words(recipe: Recipe): string;
  /** The recipe `into` with this setting as in `from`. */
  copy(from: Recipe, into: Recipe): Recipe;
  /** Whether the setting has an effect in this recipe; where it has none it is left out of the differences. */
  counts?(recipe: Recipe): boolean;
}

const encodeSetting = <K extends keyof Recipe['encode']>(
  name: string,
  key: K,
  words: (recipe: Recipe) => string,
  counts?: (recipe: Recipe) => boolean,
): SettingFacts => ({
  station: 'encode',
  name,
  words,
  copy: (from, into) => ({ ...into, encode: { ...into.encode, [key]: from.encode[key] } }),
  ...(counts ? { counts } : {}),
});
const isRate =
  (...kinds: Recipe['encode']['rateControl'][]) =>
  (recipe: Recipe): boolean =>
    kinds.includes(recipe.encode.rateControl);

export const settingFacts: Record<SettingKey, SettingFacts> = {
  source: {
    station: 'capture',
    name: 'source',
    words: (r) => sourceWords(r.source),
    copy: (from, into) => ({ ...into, source: from.source }),
  },
  rate: {
    station: 'capture',
    name: 'frame rate',
    words: (r) => formatRate(r.rate),
    copy: (from, into) => ({ ...into, rate: from.rate }),
  },
  size: {
    station: 'size',
    name: 'size',
    words: (r) => formatSize(r.size.widthPx, r.size.heightPx),
    copy: (from, into) => ({
      ...into,
      size: { ...into.size, widthPx: from.size.widthPx, heightPx: from.size.heightPx },
    }),
  },
  filter: {
    station: 'size',
    name: 'filter',
    words: (r) => filterWords[r.size.filter].method,
    copy: (from, into) => ({ ...into, size: { ...into.size, filter: from.size.filter } }),
  },
  fit: {
    station: 'size',
    name: 'other shape',
    words: (r) => fitWords[r.size.fit],
    copy: (from, into) => ({ ...into, size: { ...into.size, fit: from.size.fit } }),
  },
  camera: {
    station: 'size',
    name: 'camera',
    words: (r) => cameraWords(r.camera),
    copy: (from, into) => ({ ...into, camera: from.camera }),
  },
  encoder: encodeSetting('encoder', 'encoder', (r) => encoderWords(r.encode.encoder)),
  effort: encodeSetting(
    'effort',
    'effort',
    (r) => effortWords[r.encode.effort],
    (r) => encoderFacts[r.encode.encoder].efforts.length > 0,
  ),
  rateControl: encodeSetting('rate control', 'rateControl', (r) => rateControlWords[r.encode.rateControl]),
  quality: encodeSetting(
    'quality',
    'quality',
    (r) => String(r.encode.quality),
    isRate('constant-quality', 'constant-quantiser'),
  ),
  bitrate: encodeSetting(
    'bitrate',
    'bitrateKbps',
    (r) => formatKbps(r.encode.bitrateKbps),
    isRate('constant-bitrate', 'variable-bitrate'),
  ),
  ceiling: encodeSetting('ceiling', 'ceilingKbps', (r) => formatKbps(r.encode.ceilingKbps), isRate('variable-bitrate')),
  quantiser: encodeSetting('quantiser', 'quantiser', (r) => String(r.encode.quantiser), isRate('picture-by-picture')),
  keyDistance: encodeSetting(
    'key pictures every',
    'keyDistanceFrames',
    (r) => `${r.encode.keyDistanceFrames} frames`,
    (r) => encoderFacts[r.encode.encoder].keyDistance,
  ),
  groups: encodeSetting(
    'groups',
    'closedGroups',
    (r) => (r.encode.closedGroups ? 'closed' : 'open'),
    (r) => encoderFacts[r.encode.encoder].keyDistance,
  ),
  bFrames: encodeSetting(
    'B-frames',
    'bFrames',
    (r) => String(r.encode.bFrames),
    (r) => encoderFacts[r.encode.encoder].mostBFrames > 0,
  ),
  lowDelay: encodeSetting(
    'low delay',
    'lowDelay',
    (r) => (r.encode.lowDelay ? 'on' : 'off'),
    (r) => encoderFacts[r.encode.encoder].lowDelay,
  ),
  pixels: encodeSetting('colours', 'pixels', (r) => pixelWords[r.encode.pixels]),
  profile: encodeSetting(
    'profile',
    'profile',
    (r) => profileWords[r.encode.profile],
    (r) => encoderFacts[r.encode.encoder].profiles && !isLossless(r),
  ),
  threads: encodeSetting(
    'threads',
    'threads',
    (r) => (r.encode.threads === 0 ? 'automatic' : String(r.encode.threads)),
    (r) => encoderFacts[r.encode.encoder].threads,
  ),
  range: encodeSetting('range', 'range', (r) => r.encode.range),
  matrix: encodeSetting(
    'matrix',
    'matrix',
    (r) => matrixWords[r.encode.matrix],
    (r) => r.encode.pixels !== 'rgb' && r.encode.encoder !== 'mjpeg-software',
  ),
  lookAhead: encodeSetting(
    'look-ahead',
    'lookAheadFrames',
    (r) => lookAheadWords(r.encode.lookAheadFrames),
    (r) => encoderFacts[r.encode.encoder].mostLookAhead > 0,
  ),
  eyeTuning: encodeSetting(
    'tuned for the eye',
    'eyeTuning',
    (r) => eyeTuningWords[r.encode.eyeTuning],
    (r) => encoderFacts[r.encode.encoder].eyeTuning,
  ),
  easyDecode: encodeSetting(
    'easy to decode',
    'easyDecode',
    (r) => (r.encode.easyDecode ? 'on' : 'off'),
    (r) => encoderFacts[r.encode.encoder].easyDecode,
  ),
  card: encodeSetting(
    'card',
    'card',
    (r) => cardWords(r.encode.card),
    (r) => encoderFacts[r.encode.encoder].cards,
  ),
  priority: {
    station: 'encode',
    name: 'priority',
    words: (r) => priorityWords[r.priority],
    copy: (from, into) => ({ ...into, priority: from.priority }),
    counts: (r) => encoderFacts[r.encode.encoder].place === 'software',
  },
  lanes: {
    station: 'sound',
    name: 'lanes',
    words: (r) => r.lanes.map(laneWords).join('; ') || 'none',
    copy: (from, into) => ({ ...into, lanes: from.lanes }),
  },
  sources: {
    station: 'sound',
    name: 'sources',
    words: (r) => r.lanes.map((l) => l.sources.join('+')).join('; '),
    copy: (from, into) => ({ ...into, lanes: from.lanes }),
  },
  sounds: {
    station: 'sound',
    name: 'heard',
    words: (r) => r.sounds.map(soundInputWords).join('; ') || 'nothing',
    copy: (from, into) => ({ ...into, sounds: from.sounds }),
    counts: (r) => r.lanes.length > 0,
  },
  leadIn: {
    station: 'sound',
    name: 'lead-in',
    words: (r) => leadInWords[r.leadIn],
    copy: (from, into) => ({ ...into, leadIn: from.leadIn }),
  },
  container: {
    station: 'pack',
    name: 'file type',
    words: (r) => containerWords[r.container].name,
    copy: (from, into) => ({ ...into, container: from.container }),
  },
  rewrap: {
    station: 'pack',
    name: 'MP4 afterwards',
    words: (r) => (r.rewrap ? (r.discardSource ? 'in its place' : 'made') : 'not made'),
    copy: (from, into) => ({ ...into, rewrap: from.rewrap, discardSource: from.discardSource }),
  },
  drive: {
    station: 'drive',
    name: 'drive',
    words: (r) => r.driveId,
    copy: (from, into) => ({ ...into, driveId: from.driveId }),
  },
  nextDrives: {
    station: 'drive',
    name: 'goes on in',
    words: (r) => (r.nextDriveIds.length ? plural(r.nextDriveIds.length, 'other folder') : 'nowhere else'),
    copy: (from, into) => ({ ...into, nextDriveIds: from.nextDriveIds }),
  },
  parts: {
    station: 'drive',
    name: 'parts',
    words: (r) => partsWords(r.parts),
    copy: (from, into) => ({ ...into, parts: from.parts }),
  },
  subfolder: {
    station: 'drive',
    name: 'subfolder',
    words: (r) => subfolderWords[r.file.subfolder],
    copy: (from, into) => ({ ...into, file: { ...into.file, subfolder: from.file.subfolder } }),
  },
  name: {
    station: 'drive',
    name: 'name',
    words: (r) => nameInWords(r.file.name),
    copy: (from, into) => ({ ...into, file: { ...into.file, name: from.file.name } }),
  },
  ceilingMinutes: {
    station: 'drive',
    name: 'ceiling',
    words: (r) => (r.ceilingMinutes === null ? 'none' : `${r.ceilingMinutes} min`),
    copy: (from, into) => ({ ...into, ceilingMinutes: from.ceilingMinutes }),
  },
};

/** Keys of the settings whose values differ, whether or not they have an effect. */
export const changedSettings = (a: Recipe, b: Recipe): SettingKey[] =>
  settingKeys.filter((key) => settingFacts[key].words(a) !== settingFacts[key].words(b));

/** The settings of one station as they were in another recipe; the rest stays. */
export function resetStation(recipe: Recipe, start: Recipe, station: PathPlaceName): Recipe {
  return settingKeys
    .filter((key) => settingFacts[key].station === station)
    .reduce((into, key) => settingFacts[key].copy(start, into), recipe);
}

/** A changed recipe with the locked settings put back to what they were. */
export const keepLocked = (before: Recipe, after: Recipe, locks: readonly string[]): Recipe =>
  settingKeys.filter((key) => locks.includes(key)).reduce((into, key) => settingFacts[key].copy(before, into), after);
