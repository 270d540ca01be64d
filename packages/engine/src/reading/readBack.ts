import { readFileSync, statSync } from 'node:fs';
import { errorText } from '@mellow/core';
import type { MediaFacts } from '@mellow/model';
import {
  AVERROR_EOF,
  AVMEDIA_TYPE_AUDIO,
  AVMEDIA_TYPE_VIDEO,
  type AVMediaType,
  type AVPixelFormat,
} from 'node-av/constants';
import {
  avGetCodecName,
  avGetPixFmtName,
  Dictionary,
  FFmpegError,
  FormatContext,
  InputFormat,
  Packet,
  type Stream,
} from 'node-av/lib';
import { pictureProfileName, colourName, rangeName } from '../native/codedNames';
import { firstListed, isPartsList, listedBytes } from '../container/partsList';
import { isStripesList, openStripes } from '../container/stripesList';
import { openStripedInput } from '../container/stripedInput';
import { requireNative } from '../native/requireNative';
import { trackName } from '../container/trackName';

/** A packet of the picture track, in the order of the file. */
export interface PictureFacts {
  timeUs: number;
  bytes: number;
  key: boolean;
}

/** Below so many pictures a second a rate that is twice the mean is that of fields. */
const fewestSure = 10;
/** No file of ours has a higher rate (`frameRateSchema`). */
const mostFps = 480;

/** How far a file was read, in bytes; told about four times a second. */
export type ReadProgress = (done: number, of: number | null) => void;

/** Bytes of a media file, or of all that a list names. */
function bytesOf(path: string): number {
  if (isPartsList(path)) return listedBytes(readFileSync(path, 'utf8'));
  if (!isStripesList(path)) return statSync(path).size;
  const stripes = openStripes(path);
  stripes.close();
  return stripes.bytes;
}

/** Opens a media file, or a list of parts as one, for reading. @throws in words where it is none */
export function openMedia(path: string): FormatContext {
  const size = bytesOf(path);
  if (size === 0) throw new Error('The file is empty.');
  const context = new FormatContext();
  try {
    FFmpegError.throwIfError(openInput(context, path), 'opening the file');
    FFmpegError.throwIfError(context.findStreamInfoSync(null), 'reading the file');
  } catch (error) {
    context.closeInputSync();
    throw new Error(
      `The file is no recording that can be read: its beginning or its index is missing or damaged (${errorText(error)}).`,
    );
  }
  return context;
}

/** Packets of a list come as they are in the parts, with complete paths allowed. */
function openInput(context: FormatContext, path: string): number {
  if (isStripesList(path)) return openStripedInput(context, path);
  if (!isPartsList(path)) return context.openInputSync(path);
  const format = requireNative(InputFormat.findInputFormat('concat'), 'reader of parts');
  return context.openInputSync(path, format, Dictionary.fromObject({ safe: '0', auto_convert: '0' }));
}

/**
 * Reads a finished file to its end: every packet of the picture track, and what the tracks say of themselves. Lengths are
 * those of the packets, not of the head, which a file that was cut off still has from before.
 * @throws in words where the file cannot be opened or has no picture
 */
export function readFileBack(
  path: string,
  onPicture: (picture: PictureFacts) => void,
  progress: ReadProgress = () => {},
): MediaFacts {
  const context = openMedia(path);
  try {
    return readPackets(context, path, onPicture, progress);
  } finally {
    context.closeInputSync();
  }
}

/** Only what a file says of itself. */
export const factsOf = (path: string, progress?: ReadProgress): MediaFacts => readFileBack(path, () => {}, progress);

const isType = (stream: Stream, type: AVMediaType): boolean => stream.codecpar.codecType === type;

/** What the packets of one track add up to. */
interface TrackTotals {
  packets: number;
  keys: number;
  bytes: number;
  firstUs: number;
  lastUs: number;
  endUs: number;
}

function readPackets(
  context: FormatContext,
  path: string,
  onPicture: (picture: PictureFacts) => void,
  progress: ReadProgress,
): MediaFacts {
  const streams = context.streams;
  const video = streams.find((stream) => isType(stream, AVMEDIA_TYPE_VIDEO));
  if (!video) throw new Error('The file has no picture track.');
  const sounds = streams.filter((stream) => isType(stream, AVMEDIA_TYPE_AUDIO));
  const size = bytesOf(path);
  const totals = new Map<number, TrackTotals>();
  const bases = new Map(streams.map((stream) => [stream.index, usPerTick(stream)]));
  const packet = new Packet();
  packet.alloc();
  let read = 0;
  let toldMs = performance.now();
  try {
    for (;;) {
      const code = context.readFrameSync(packet);
      if (code === AVERROR_EOF) break;
      FFmpegError.throwIfError(code, 'reading the file');
      const { streamIndex } = packet;
      const perTick = bases.get(streamIndex) ?? 1;
      const timeUs = Number(packet.pts) * perTick;
      count(totals, streamIndex, timeUs, Number(packet.duration) * perTick, packet);
      if (streamIndex === video.index) onPicture({ timeUs, bytes: packet.size, key: packet.isKeyframe });
      read += packet.size;
      packet.unref();
      if (performance.now() - toldMs < 250) continue;
      toldMs = performance.now();
      progress(Math.min(read, size), size);
    }
  } finally {
    packet.free();
  }
  progress(size, size);
  return factsFrom(size, formatOf(context, path), video, sounds, totals);
}

/** Parts are what their first is. */
function formatOf(context: FormatContext, path: string): string {
  const name = context.iformat?.name ?? 'unknown';
  const first = isPartsList(path) ? firstListed(readFileSync(path, 'utf8')) : null;
  if (first === null) return name;
  const part = openMedia(first);
  try {
    return part.iformat?.name ?? name;
  } finally {
    part.closeInputSync();
  }
}

function usPerTick(stream: Stream): number {
  return (stream.timeBase.num * 1e6) / stream.timeBase.den;
}

function count(
  totals: Map<number, TrackTotals>,
  index: number,
  timeUs: number,
  durationUs: number,
  packet: Packet,
): void {
  const track = totals.get(index) ?? { packets: 0, keys: 0, bytes: 0, firstUs: Infinity, lastUs: -Infinity, endUs: 0 };
  track.packets++;
  if (packet.isKeyframe) track.keys++;
  track.bytes += packet.size;
  track.firstUs = Math.min(track.firstUs, timeUs);
  track.lastUs = Math.max(track.lastUs, timeUs);
  track.endUs = Math.max(track.endUs, timeUs + durationUs);
  totals.set(index, track);
}

function factsFrom(
  size: number,
  formatName: string,
  video: Stream,
  sounds: readonly Stream[],
  totals: ReadonlyMap<number, TrackTotals>,
): MediaFacts {
  const p = video.codecpar;
  const told = likelyRate(video, totals.get(video.index)?.packets ?? 0);
  const periodUs = told.num > 0 ? (told.den * 1e6) / told.num : 0;
  const picture = totals.get(video.index);
  const endUs = picture ? picture.lastUs + periodUs : null;
  const lanes = sounds.map((stream) => laneFacts(stream, totals.get(stream.index)));
  const soundEndUs = sounds.reduce((most, s) => Math.max(most, totals.get(s.index)?.endUs ?? 0), 0);
  return {
    bytes: size,
    formatName,
    durationUs: picture || sounds.length ? Math.max(endUs ?? 0, soundEndUs) : null,
    picture: {
      codec: avGetCodecName(p.codecId) ?? 'unknown',
      profile: pictureProfileName(avGetCodecName(p.codecId) ?? '', p.profile),
      level: p.level,
      widthPx: p.width,
      heightPx: p.height,
      pixelFormat: avGetPixFmtName(p.format as AVPixelFormat) ?? 'unknown',
      range: rangeName(p.colorRange),
      matrix: colourName(p.colorSpace),
      primaries: colourName(p.colorPrimaries),
      transfer: colourName(p.colorTrc),
      rate: told.num > 0 ? { num: told.num, den: told.den } : null,
      packets: picture?.packets ?? 0,
      keys: picture?.keys ?? 0,
      pictureBytes: picture?.bytes ?? 0,
      firstUs: picture?.firstUs ?? null,
      endUs,
    },
    lanes,
  };
}

/** What the library takes for the rate; of one or two pictures it guesses, and of a guess nothing may follow. */
function likelyRate({ avgFrameRate, rFrameRate }: Stream, pictures: number): { num: number; den: number } {
  const isRate = ({ num, den }: { num: number; den: number }): boolean =>
    num > 0 && den > 0 && num / den >= 1 && num / den <= mostFps;
  // AVC counts fields: of a few pictures a second in Matroska the library takes twice as many for the rate.
  const ofFields = rFrameRate.num * avgFrameRate.den === 2 * avgFrameRate.num * rFrameRate.den;
  const guessed = pictures <= 2 || (ofFields && rFrameRate.num < fewestSure * rFrameRate.den);
  const order = guessed ? [avgFrameRate, rFrameRate] : [rFrameRate, avgFrameRate];
  const found = order.find(isRate);
  return found ? { num: found.num, den: found.den } : { num: 0, den: 1 };
}

function laneFacts(stream: Stream, totals: TrackTotals | undefined): MediaFacts['lanes'][number] {
  const { sampleRate } = stream.codecpar;
  return {
    codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
    name: trackName(stream),
    sampleRateHz: sampleRate,
    channels: stream.codecpar.channels,
    bytes: totals?.bytes ?? 0,
    durationUs: totals?.endUs ?? 0,
    packets: totals?.packets ?? 0,
  };
}
