import { onePart, type Recipe, type Station } from '@mellow/model';
import { filedSize } from '../picture/camera';
import { encoderFacts, encoderWords, hasQualityNumber } from '../codec/encoders';
import { withEncoder } from '../codec/withEncoder';
import { isStriped } from '../storage/striping';
import { soundClashes } from './soundClashes';
import { formatKbps, formatSize, framesPerSecond } from '../units';
import { containerWords, pixelWords, rateControlWords, soundCodecWords } from './words';

/** Every clash there is, and the place where its settings stand. */
export const clashStations = {
  'odd-size': 'size',
  'camera-too-wide': 'size',
  'parts-open-groups': 'encode',
  'stripes-plain-mp4': 'pack',
  'stripes-one-folder': 'drive',
  'source-sound': 'sound',
  'lane-of-nothing': 'sound',
  'encoder-cannot': 'encode',
  'baseline-b-frames': 'encode',
  'rewrap-cannot': 'pack',
  'encoder-rate': 'encode',
  'sound-in-container': 'pack',
  'b-frames-low-delay': 'encode',
  'ceiling-below-mean': 'encode',
  'unsafe-mp4': 'pack',
} as const satisfies Record<string, Station | 'sound'>;
export type ClashId = keyof typeof clashStations;

/** Two things that cannot both be, or a choice that puts the take at risk. */
export interface Clash {
  id: ClashId;
  /** `stops`: no take can be made; `risk`: it can, and may be lost or spoilt. */
  weight: 'stops' | 'risk';
  title: string;
  text: string;
  remedy: { label: string; recipe: Recipe };
}

/** Widest picture of a recipe. */
const mostWidthPx = 7680;

const even = (n: number): number => Math.max(64, n - (n % 2));

/**
 * Sound codecs that each container takes so that common readers play them.
 * Matroska takes all four; MP4 takes AAC, Opus and FLAC (ISO/IEC 14496-12 registrations), PCM in it is read by few.
 */
export const containerTakesSound = (container: Recipe['container'], codec: Recipe['lanes'][number]['codec']): boolean =>
  container === 'matroska' || codec !== 'pcm';

/** What of a take cannot be copied into a plain MP4, by its name and in a sentence; null where all can. */
export function mp4Trouble({ lanes, encode }: Pick<Recipe, 'lanes' | 'encode'>): { what: string; text: string } | null {
  const { standard, containers } = encoderFacts[encode.encoder];
  if (!containers.includes('mp4')) return { what: standard, text: `${standard} does not go into an MP4.` };
  if (lanes.every(({ codec }) => containerTakesSound('mp4', codec))) return null;
  return { what: 'PCM sound', text: 'PCM sound does not go into an MP4 that others play.' };
}

/** Whether a full take may become several files, one after the other. */
export const isCut = ({ parts, nextDriveIds }: Pick<Recipe, 'parts' | 'nextDriveIds'>): boolean =>
  parts.by === 'length' || parts.by === 'size' || (parts.by === 'none' && nextDriveIds.length > 0);

/** All clashes of a recipe, worst first. */
export function recipeClashes(recipe: Recipe): Clash[] {
  const clashes: Clash[] = [];
  const { size, encode, container } = recipe;
  if (encode.pixels.startsWith('4:2:0') && (size.widthPx % 2 || size.heightPx % 2)) {
    const widthPx = even(size.widthPx);
    const heightPx = even(size.heightPx);
    clashes.push({
      id: 'odd-size',
      weight: 'stops',
      title: `${formatSize(size.widthPx, size.heightPx)} has an odd side`,
      text: '4:2:0 keeps one colour sample for every 2×2 pixels, so both sides must be even.',
      remedy: {
        label: `Use ${formatSize(widthPx, heightPx)}`,
        recipe: { ...recipe, size: { ...size, widthPx, heightPx } },
      },
    });
  }
  if (filedSize(recipe).widthPx > mostWidthPx) {
    clashes.push({
      id: 'camera-too-wide',
      weight: 'stops',
      title: `Game and camera side by side are ${filedSize(recipe).widthPx} pixels wide`,
      text: `No more than ${mostWidthPx} can be encoded.`,
      remedy: {
        label: 'Lay the camera over the game',
        recipe: { ...recipe, camera: { ...recipe.camera!, where: 'over' } },
      },
    });
  }
  const reorders = encoderFacts[encode.encoder].mostBFrames > 0 && encode.bFrames > 0 && !encode.lowDelay;
  if (isCut(recipe) && !encode.closedGroups && reorders) {
    clashes.push({
      id: 'parts-open-groups',
      weight: 'stops',
      title: 'Parts need closed groups',
      text: 'A part begins with a key picture. In open groups pictures before it in time come after it and lean on the part before: neither file would have them whole.',
      remedy: { label: 'Close groups', recipe: { ...recipe, encode: { ...encode, closedGroups: true } } },
    });
  }
  if (isStriped(recipe) && container === 'mp4') {
    clashes.push({
      id: 'stripes-plain-mp4',
      weight: 'stops',
      title: 'A plain MP4 is not striped',
      text: 'It has its index at its end only. What a recorder that dies leaves of it on several drives could be put together by nobody.',
      remedy: { label: 'Fragmented MP4', recipe: { ...recipe, container: 'fragmented-mp4' } },
    });
  }
  if (recipe.parts.by === 'striped' && !recipe.nextDriveIds.length) {
    clashes.push({
      id: 'stripes-one-folder',
      weight: 'risk',
      title: 'One folder cannot be striped',
      text: 'Takes are spread over all chosen folders at once, and there is only one. As it is, each take is one file there.',
      remedy: { label: 'One file', recipe: { ...recipe, parts: onePart } },
    });
  }
  clashes.push(...soundClashes(recipe));
  const cannot = encoderCannot(recipe);
  if (cannot) {
    clashes.push({
      id: 'encoder-cannot',
      weight: 'stops',
      title: `${encoderWords(encode.encoder)} cannot do ${cannot}`,
      text: 'The encoder would refuse to open, so no take would begin.',
      remedy: { label: 'Use what it can', recipe: withEncoder(recipe, encode.encoder) },
    });
  }
  if (encode.encoder === 'avc-software' && encode.profile === 'baseline' && encode.bFrames > 0) {
    clashes.push({
      id: 'baseline-b-frames',
      weight: 'risk',
      title: 'Baseline has no B-frames',
      text: 'The encoder leaves them out, so the file gets larger than without that profile (ITU-T H.264, Annex A).',
      remedy: { label: 'Use Main', recipe: { ...recipe, encode: { ...encode, profile: 'main' } } },
    });
  }
  const noMp4 = recipe.rewrap ? mp4Trouble(recipe) : null;
  if (noMp4 !== null) {
    clashes.push({
      id: 'rewrap-cannot',
      weight: 'risk',
      title: 'These tracks do not go into a plain MP4',
      text: `${noMp4.text} The copy after stopping would fail. The take itself is safe.`,
      remedy: { label: 'Make no MP4', recipe: { ...recipe, rewrap: false } },
    });
  }
  const { mostFps } = encoderFacts[encode.encoder];
  if (mostFps !== null && framesPerSecond(recipe.rate) > mostFps) {
    clashes.push({
      id: 'encoder-rate',
      weight: 'stops',
      title: `${encoderWords(encode.encoder)} takes ${mostFps} fps at most`,
      text: 'The encoder would refuse to open, so no take would begin.',
      remedy: { label: 'Use AVC', recipe: withEncoder(recipe, 'avc-software') },
    });
  }
  const foreign = recipe.lanes.filter((lane) => !containerTakesSound(container, lane.codec));
  if (foreign.length) {
    const names = [...new Set(foreign.map((lane) => soundCodecWords[lane.codec]))].join(' and ');
    clashes.push({
      id: 'sound-in-container',
      weight: 'stops',
      title: `${names} does not go into ${containerWords[container].name}`,
      text: `Few readers take ${names} from this file type; Matroska takes every sound codec here. FLAC is lossless too and goes into both.`,
      remedy: {
        label: 'Use FLAC',
        recipe: {
          ...recipe,
          lanes: recipe.lanes.map((l) => (containerTakesSound(container, l.codec) ? l : { ...l, codec: 'flac' })),
        },
      },
    });
  }
  if (encode.lowDelay && encode.bFrames > 0 && encoderFacts[encode.encoder].mostBFrames > 0) {
    clashes.push({
      id: 'b-frames-low-delay',
      weight: 'stops',
      title: `${encode.bFrames} B-frames and low delay exclude each other`,
      text: 'A B-frame waits for a later picture; low delay lets none wait. Without B-frames the file grows by 9 to 15 % at one quality.',
      remedy: { label: 'Set B-frames to 0', recipe: { ...recipe, encode: { ...encode, bFrames: 0 } } },
    });
  }
  if (encode.rateControl === 'variable-bitrate' && encode.ceilingKbps < encode.bitrateKbps) {
    clashes.push({
      id: 'ceiling-below-mean',
      weight: 'stops',
      title: `The ceiling of ${formatKbps(encode.ceilingKbps)} is under the mean of ${formatKbps(encode.bitrateKbps)}`,
      text: 'A rate cannot stay above its own ceiling. Half as much again leaves room for busy scenes.',
      remedy: {
        label: `Set the ceiling to ${formatKbps(Math.round(encode.bitrateKbps * 1.5))}`,
        recipe: { ...recipe, encode: { ...encode, ceilingKbps: Math.round(encode.bitrateKbps * 1.5) } },
      },
    });
  }
  if (container === 'mp4') {
    clashes.push({
      id: 'unsafe-mp4',
      weight: 'risk',
      title: 'Plain MP4 is lost in a power cut',
      text: 'Its index is written last. After a recorder that dies it is built anew from its packets; after a PC that dies perhaps not. Matroska loses at most about 2 s and can be re-wrapped without loss.',
      remedy: { label: 'Use Matroska', recipe: { ...recipe, container: 'matroska' } },
    });
  }
  return clashes.sort((a, b) => (a.weight === b.weight ? 0 : a.weight === 'stops' ? -1 : 1));
}

/** The first thing a recipe asks of its encoder that the table says it cannot do; null if there is none. */
function encoderCannot({ encode, container }: Recipe): string | null {
  const facts = encoderFacts[encode.encoder];
  if (!facts.rateControls.includes(encode.rateControl)) return rateControlWords[encode.rateControl];
  if (!facts.pixels.includes(encode.pixels)) return pixelWords[encode.pixels];
  if (!facts.containers.includes(container)) return containerWords[container].name;
  if (hasQualityNumber(encode) && facts.quality && encode.quality > facts.quality.worst)
    return `quality ${encode.quality}`;
  if (facts.mostLookAhead > 0 && (encode.lookAheadFrames ?? 0) > facts.mostLookAhead)
    return `a look-ahead of ${encode.lookAheadFrames}`;
  return facts.mostBFrames > 0 && encode.bFrames > facts.mostBFrames ? `${encode.bFrames} B-frames` : null;
}
