import { createHash } from 'node:crypto';
import { AV_CODEC_ID_UTVIDEO, AV_DISPOSITION_DEFAULT, AVMEDIA_TYPE_VIDEO } from 'node-av/constants';
import type { Stream } from 'node-av/lib';
import { trackName } from './trackName';

/** What a container says of a track, which its packets need to be shown as they were: names of things, and their values. */
export type TrackWords = Record<string, string | number>;

/** Codecs whose kind of pixels stands in the tag alone (FourCC): the same packets under another one are another picture. */
const toldByTag: readonly number[] = [AV_CODEC_ID_UTVIDEO];

/** A codec's tag has to be kept where nothing else tells its kind of pixels. */
export const tagTells = (codecId: number): boolean => toldByTag.includes(codecId);

const unspecified = 2;

/** What a track says of itself; a value that it does not tell is left out. */
export function trackWords(stream: Stream): TrackWords {
  const { codecpar } = stream;
  const isPicture = codecpar.codecType === AVMEDIA_TYPE_VIDEO;
  const words: TrackWords = { codec: codecpar.codecId, name: trackName(stream) };
  const tell = (name: string, value: number, unknown: number): void => {
    if (value !== unknown) words[name] = value;
  };
  if (stream.disposition & AV_DISPOSITION_DEFAULT) words['default track'] = 'yes';
  const { extradata } = codecpar;
  if (extradata?.length) words['codec parameters'] = createHash('sha256').update(extradata).digest('hex');
  if (!isPicture) {
    words['sample rate'] = codecpar.sampleRate;
    words['channels'] = codecpar.channels;
    return words;
  }
  if (tagTells(codecpar.codecId)) words['codec tag'] = codecpar.codecTag;
  words['width'] = codecpar.width;
  words['height'] = codecpar.height;
  tell('range', codecpar.colorRange, 0);
  // Two names of one matrix (Rec. ITU-T H.273, table 4).
  tell('matrix', codecpar.colorSpace === 5 ? 6 : codecpar.colorSpace, unspecified);
  tell('primaries', codecpar.colorPrimaries, unspecified);
  tell('transfer', codecpar.colorTrc, unspecified);
  return words;
}

/** Every container that a take goes into keeps these. */
const needed: readonly string[] = ['codec tag', 'name', 'default track', 'width', 'height', 'sample rate', 'channels'];

/** Said otherwise by each container, though it means the same: whether it holds is seen when it is decoded. */
const ownOfContainer: readonly string[] = ['codec parameters'];

/**
 * The first thing in which a copy's track differs from the take's, in words; null where none does.
 * @param sameContainer both are of one kind, so that what containers say in their own ways has to be equal, too
 */
export function otherWord(take: TrackWords, copy: TrackWords, sameContainer: boolean): string | null {
  for (const [name, value] of Object.entries(take)) {
    if (!sameContainer && ownOfContainer.includes(name)) continue;
    const found = copy[name];
    // Not every container keeps everything; what it says has to be right.
    if (found === undefined ? needed.includes(name) : found !== value)
      return ownOfContainer.includes(name)
        ? `Its ${name} are others`
        : `Its ${name} is ${found ?? 'not told'}, not ${value}`;
  }
  return null;
}
