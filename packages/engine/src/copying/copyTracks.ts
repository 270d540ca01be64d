import type { FrameRate, MediaFacts } from '@mellow/model';
import {
  AV_CODEC_ID_HEVC,
  AV_DISPOSITION_DEFAULT,
  AVERROR_EOF,
  AVIO_FLAG_WRITE,
  AVMEDIA_TYPE_VIDEO,
} from 'node-av/constants';
import { Dictionary, FFmpegError, FormatContext, IOContext, Packet, Rational, type Stream } from 'node-av/lib';
import { dueUs, nearestDue } from '@mellow/core';
import { fourCharacters } from '../native/encoderNames';
import { indexBytes } from '../container/partedWriter';
import { tellPictureLevel } from '../container/pictureLevel';
import { pictureTimescale } from '../container/pictureTimescale';
import { openMedia, readFileBack, type ReadProgress } from '../reading/readBack';
import { scanOrder, type PictureOrder } from '../container/reorder';
import { setOptions } from '../native/setOptions';
import { samplesIn, soundClock } from '../container/soundSteps';
import { trackName } from '../container/trackName';
import { tagTells } from '../container/trackWords';

export interface CopyOptions {
  format: 'matroska' | 'mp4';
  /** Which sound tracks to take along, by position; null takes all. */
  lanes: readonly number[] | null;
  muxer: Record<string, string>;
  /** An MP4 has its index in front: the room for it is kept free, since moving the whole file once more takes as long as writing it. */
  indexInFront?: boolean;
  /** The rate the file was made at; null takes the file's own word. */
  rate: FrameRate | null;
  progress: ReadProgress;
}

interface CopiedTrack {
  from: Stream;
  to: Stream;
  /** Samples clock of a lane, null for the picture and for codecs whose packets do not tell their length. */
  clock: ReturnType<typeof soundClock> | null;
}

/** Presentation of a file's pictures: its rate, the order, and what a codec's priming added to every time stamp. */
interface PictureTimes {
  rate: FrameRate;
  order: PictureOrder;
  shiftUs: number;
}

/**
 * Copies packets into a new container without encoding again. Pictures get times in whole frames of the rate and decode
 * times from the order they are presented in, so that a file without gaps has one constant step; lanes get times on their
 * own sample clock. Matroska tells neither: it keeps milliseconds and no decode times.
 * @returns what the source holds
 */
export function copyTracks(from: string, to: string, options: CopyOptions): MediaFacts {
  const { facts, times } = scan(from, options.rate);
  const input = openMedia(from);
  const output = new FormatContext();
  const io = new IOContext();
  let opened = false;
  try {
    FFmpegError.throwIfError(output.allocOutputContext2(null, options.format, to), 'opening the new file');
    FFmpegError.throwIfError(io.open2Sync(to, AVIO_FLAG_WRITE), 'opening the new file');
    opened = true;
    output.pb = io;
    const chosen = addTracks(input, output, options, times.rate);
    setOptions(output, optionsFor(options, times.rate, facts));
    FFmpegError.throwIfError(output.writeHeaderSync(null), 'writing the new file');
    copyPackets(input, output, chosen, times, options.progress, facts.bytes);
    FFmpegError.throwIfError(output.writeTrailerSync(), 'closing the new file');
    return facts;
  } finally {
    input.closeInputSync();
    output.pb = null;
    output.freeContext();
    if (opened) io.closepSync();
  }
}

/** The source read once to its end: its facts, and in which order its pictures are presented. */
function scan(path: string, wantedRate: FrameRate | null): { facts: MediaFacts; times: PictureTimes } {
  const early: number[] = [];
  let shiftUs = 0;
  let order: ReturnType<typeof scanOrder> | null = null;
  const rate = wantedRate ?? rateOf(path);
  const begin = (): void => {
    shiftUs = primingShiftUs(
      early.reduce((least, timeUs) => Math.min(least, timeUs), Infinity),
      rate,
    );
    order = scanOrder(rate, shiftUs);
    for (const timeUs of early.splice(0)) order.picture(timeUs);
  };
  const facts = readFileBack(path, ({ timeUs }) => {
    if (order) return order.picture(timeUs);
    early.push(timeUs);
    if (early.length === 64) begin();
  });
  if (!order) begin();
  const scanned = order as unknown as ReturnType<typeof scanOrder>;
  return { facts, times: { rate, order: scanned.end(), shiftUs } };
}

/** A first picture off the grid of frames by less than 100 ms was moved by a codec's priming, and everything with it. */
function primingShiftUs(firstUs: number, rate: FrameRate): number {
  if (!(firstUs > 0 && firstUs < 100_000)) return 0;
  return Math.abs(dueUs(rate, nearestDue(rate, firstUs)) - firstUs) <= 1100 ? 0 : firstUs;
}

function rateOf(path: string): FrameRate {
  const context = openMedia(path);
  try {
    const video = context.streams.find((stream) => stream.codecpar.codecType === AVMEDIA_TYPE_VIDEO);
    const told = video && video.rFrameRate.num > 0 ? video.rFrameRate : video?.avgFrameRate;
    if (!told || told.num <= 0) throw new Error('The file does not tell its frame rate.');
    return { num: told.num, den: told.den };
  } finally {
    context.closeInputSync();
  }
}

function optionsFor(
  { format, muxer, indexInFront = false }: CopyOptions,
  rate: FrameRate,
  facts: MediaFacts,
): Record<string, string> {
  if (format !== 'mp4') return muxer;
  const told: Record<string, string> = { video_track_timescale: String(pictureTimescale(rate)), ...muxer };
  if (indexInFront) told['moov_size'] = String(indexRoom(facts));
  return told;
}

/** What an index takes in the worst case: a chunk, a size, both times and a key for each packet (ISO/IEC 14496-12, 8.6 and 8.7). */
function indexRoom({ picture, lanes }: MediaFacts): number {
  const packets = picture.packets + lanes.reduce((sum, lane) => sum + lane.packets, 0);
  return indexBytes.file + packets * indexBytes.packet;
}

function addTracks(
  input: FormatContext,
  output: FormatContext,
  { lanes, format }: CopyOptions,
  rate: FrameRate,
): Map<number, CopiedTrack> {
  const chosen = new Map<number, CopiedTrack>();
  let sound = -1;
  const noDefault = input.streams.every(({ disposition }) => (disposition & AV_DISPOSITION_DEFAULT) === 0);
  for (const from of input.streams) {
    const isPicture = from.codecpar.codecType === AVMEDIA_TYPE_VIDEO;
    if (!isPicture) sound++;
    if (!isPicture && lanes && !lanes.includes(sound)) continue;
    const to = output.newStream(null);
    FFmpegError.throwIfError(from.codecpar.copy(to.codecpar), 'copying a track');
    // Parameter sets in the sample entry: more players take it (ISO/IEC 14496-15).
    const isHevcInMp4 = from.codecpar.codecId === AV_CODEC_ID_HEVC && format === 'mp4';
    // Elsewhere the container chooses, but where the tag alone tells the kind of pixels.
    if (isHevcInMp4) to.codecpar.codecTag = fourCharacters('hvc1');
    else if (!tagTells(from.codecpar.codecId)) to.codecpar.codecTag = 0;
    const { sampleRate } = from.codecpar;
    to.timeBase = isPicture ? new Rational(rate.den, rate.num) : new Rational(1, sampleRate);
    if (isPicture) {
      tellPictureLevel(to.codecpar, rate);
      to.avgFrameRate = new Rational(rate.num, rate.den);
      to.rFrameRate = new Rational(rate.num, rate.den);
    }
    // Parts read as one file lose what they say of it: a player takes the picture and the first lane then.
    const isFirst = isPicture || sound === (lanes?.[0] ?? 0);
    to.disposition = noDefault && isFirst ? AV_DISPOSITION_DEFAULT : from.disposition;
    const title = trackName(from);
    if (title) to.metadata = Dictionary.fromObject({ title, handler_name: title });
    chosen.set(from.index, { from, to, clock: isPicture ? null : soundClock(sampleRate) });
  }
  return chosen;
}

function copyPackets(
  input: FormatContext,
  output: FormatContext,
  chosen: ReadonlyMap<number, CopiedTrack>,
  times: PictureTimes,
  progress: ReadProgress,
  bytes: number,
): void {
  const packet = new Packet();
  packet.alloc();
  let pictures = 0;
  let read = 0;
  let toldMs = performance.now();
  try {
    for (;;) {
      const code = input.readFrameSync(packet);
      if (code === AVERROR_EOF) break;
      FFmpegError.throwIfError(code, 'reading the file');
      read += packet.size;
      const track = chosen.get(packet.streamIndex);
      if (track) {
        if (track.from.codecpar.codecType === AVMEDIA_TYPE_VIDEO) stampPicture(packet, track, times, pictures++);
        else stampSound(packet, track, times);
        packet.streamIndex = track.to.index;
        FFmpegError.throwIfError(output.interleavedWriteFrameSync(packet), 'writing the new file');
      }
      packet.unref();
      if (performance.now() - toldMs < 250) continue;
      toldMs = performance.now();
      progress(Math.min(read, bytes), bytes);
    }
  } finally {
    packet.free();
  }
}

/** Picture i of the coding order: its presentation in whole frames, its decode time the i-th presentation, moved back. */
function stampPicture(packet: Packet, { from, to }: CopiedTrack, times: PictureTimes, i: number): void {
  const { rate, order, shiftUs } = times;
  const timeUs = (Number(packet.pts) * from.timeBase.num * 1e6) / from.timeBase.den;
  const frames = { num: rate.den, den: rate.num };
  const nextDue = i + 1 < order.pictures ? order.dueOf(i + 1) : order.dueOf(i) + 1;
  packet.pts = BigInt(nearestDue(rate, timeUs - shiftUs));
  packet.dts = BigInt(order.dueOf(i) - order.back);
  packet.duration = BigInt(nextDue - order.dueOf(i));
  packet.rescaleTs(frames, to.timeBase);
}

/** Lanes keep their distance from the pictures. */
function stampSound(packet: Packet, { from, to, clock }: CopiedTrack, times: PictureTimes): void {
  const { sampleRate } = from.codecpar;
  const toldUs = (Number(packet.pts) * from.timeBase.num * 1e6) / from.timeBase.den - times.shiftUs;
  const told = (toldUs * sampleRate) / 1e6;
  const length = samplesIn(from, packet);
  const samples = length ?? Math.round((Number(packet.duration) * from.timeBase.num * sampleRate) / from.timeBase.den);
  const at = clock && length !== null ? clock.at(told, samples) : Math.round(told);
  packet.pts = BigInt(at);
  packet.dts = BigInt(at);
  packet.duration = BigInt(samples);
  packet.rescaleTs({ num: 1, den: sampleRate }, to.timeBase);
}
