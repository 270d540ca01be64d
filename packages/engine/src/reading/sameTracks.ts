import { createHash, type Hash } from 'node:crypto';
import { errorText } from '@mellow/core';
import type { FrameRate, SameTracks } from '@mellow/model';
import { AVERROR_EOF, AVMEDIA_TYPE_AUDIO, AVMEDIA_TYPE_VIDEO } from 'node-av/constants';
import { FFmpegError, Packet, type FormatContext, type Stream } from 'node-av/lib';
import { dueUs, nearestDue } from '@mellow/core';
import { createDisposer } from '../shared/disposer';
import { decodedSamples, type DecodedSamples } from './decodedSamples';
import { openMedia, type ReadProgress } from './readBack';
import { otherWord, trackWords, type TrackWords } from '../container/trackWords';

/** Sound may stand so far from where it stood beside the picture: what containers round, and what a codec has before its first sample. */
const soundToleranceUs = 8000;

/** Where a lane's bytes stand in time: those of packet i begin at `bytes[i]` and are heard from `timesUs[i]` on. */
interface LaneTimes {
  bytes: number[];
  timesUs: number[];
}

interface TrackDigest {
  words: TrackWords;
  hash: string;
  size: number;
  /** Hashes of what its sampled groups decode to, or why they cannot be. */
  decoded: string[] | { why: string };
  times: LaneTimes;
}
interface FileDigest {
  tracks: TrackDigest[];
  /** Times of the pictures, in the order they are shown. */
  shownUs: number[];
  container: string;
}

/** A track while its file is read. */
interface OpenTrack {
  stream: Stream;
  hash: Hash;
  size: number;
  samples: DecodedSamples;
  trouble: string | null;
  times: LaneTimes;
}

/** Every byte of every track in the order of the file, where they stand in time, what is said of them, and what samples decode to. */
function digest(path: string, progress: ReadProgress): FileDigest {
  const { owns, dispose } = createDisposer();
  try {
    const input = owns(openMedia(path), (one) => one.closeInputSync());
    const packet = owns(new Packet(), (one) => one.free());
    packet.alloc();
    const video = input.streams.find(({ codecpar }) => codecpar.codecType === AVMEDIA_TYPE_VIDEO);
    const sounds = input.streams.filter(({ codecpar }) => codecpar.codecType === AVMEDIA_TYPE_AUDIO);
    const tracks = new Map(
      [...(video ? [video] : []), ...sounds].map((stream): [number, OpenTrack] => [
        stream.index,
        {
          ...{ stream, hash: createHash('sha256'), size: 0, trouble: null, times: { bytes: [], timesUs: [] } },
          samples: owns(decodedSamples(stream), (one) => one.free()),
        },
      ]),
    );
    const shownUs = readAll(input, packet, tracks, video?.index ?? -1, progress);
    return {
      tracks: [...tracks.values()].map(closed),
      shownUs,
      container: input.iformat?.name ?? '',
    };
  } finally {
    dispose();
  }
}

function readAll(
  input: FormatContext,
  packet: Packet,
  tracks: ReadonlyMap<number, OpenTrack>,
  picture: number,
  progress: ReadProgress,
): number[] {
  const shownUs: number[] = [];
  let read = 0;
  for (;;) {
    const code = input.readFrameSync(packet);
    if (code === AVERROR_EOF) break;
    FFmpegError.throwIfError(code, 'reading the file');
    const track = tracks.get(packet.streamIndex);
    const data = packet.data;
    if (track && data) {
      const { num, den } = track.stream.timeBase;
      const timeUs = (Number(packet.pts) * num * 1e6) / den;
      if (packet.streamIndex === picture) shownUs.push(timeUs);
      else {
        track.times.bytes.push(track.size);
        track.times.timesUs.push(timeUs);
      }
      track.hash.update(data);
      track.size += data.length;
      sample(track, () => track.samples.packet(packet));
    }
    read += packet.size;
    packet.unref();
    progress(read, null);
  }
  return shownUs.sort((a, b) => a - b);
}

/** The first trouble stays. */
function sample(track: OpenTrack, work: () => void): void {
  if (track.trouble !== null) return;
  try {
    work();
  } catch (error) {
    track.trouble = errorText(error);
  }
}

function closed(track: OpenTrack): TrackDigest {
  let decoded: string[] = [];
  sample(track, () => (decoded = track.samples.end()));
  return {
    words: trackWords(track.stream),
    hash: track.hash.digest('hex'),
    size: track.size,
    decoded: track.trouble === null ? decoded : { why: track.trouble },
    times: track.times,
  };
}

const nameOf = (track: number): string => (track === 0 ? 'picture' : `lane ${track}`);

/** Pictures by the frames they stand in, counted from the first. */
function framesOf({ shownUs }: FileDigest, rate: FrameRate): number[] {
  const first = nearestDue(rate, shownUs[0] ?? 0);
  const offUs = (shownUs[0] ?? 0) - dueUs(rate, first);
  return shownUs.map((us) => nearestDue(rate, us - offUs) - first);
}

/** The furthest that a byte of a lane stands from where it stood, both counted from the first picture. */
export function furthestUs(take: LaneTimes, copy: LaneTimes): number {
  let furthest = 0;
  let at = 0;
  for (let i = 0; i < copy.bytes.length; i++) {
    const byte = copy.bytes[i] ?? 0;
    while (at + 1 < take.bytes.length && (take.bytes[at + 1] ?? 0) <= byte) at++;
    const [from, to] = [take.bytes[at] ?? 0, take.bytes[at + 1]];
    const [fromUs, toUs] = [take.timesUs[at] ?? 0, take.timesUs[at + 1]];
    // Packets of plain samples may be cut elsewhere: between two of them time runs with the bytes.
    const share = to === undefined || to <= from ? 0 : (byte - from) / (to - from);
    // Past the beginning of the last packet nobody knows how long it lasts.
    if (to === undefined && byte > from) continue;
    const wantedUs = fromUs + share * ((toUs ?? fromUs) - fromUs);
    furthest = Math.max(furthest, Math.abs((copy.timesUs[i] ?? 0) - wantedUs));
  }
  return furthest;
}

const fromFirst = ({ bytes, timesUs }: LaneTimes, { shownUs }: FileDigest): LaneTimes => ({
  bytes,
  timesUs: timesUs.map((us) => us - (shownUs[0] ?? 0)),
});

function whyNot(take: FileDigest, copy: FileDigest, rate: FrameRate): string | null {
  if (take.tracks.length !== copy.tracks.length)
    return `It has ${copy.tracks.length} tracks, the take ${take.tracks.length}.`;
  if (take.shownUs.length !== copy.shownUs.length)
    return `It has ${copy.shownUs.length} pictures, the take ${take.shownUs.length}.`;
  for (const [i, own] of take.tracks.entries()) {
    const found = copy.tracks[i];
    if (!found || own.hash !== found.hash) return `Its ${nameOf(i)} is not the same byte by byte.`;
  }
  const [frames, foundFrames] = [framesOf(take, rate), framesOf(copy, rate)];
  const moved = frames.findIndex((frame, i) => frame !== foundFrames[i]);
  if (moved >= 0) return `Its picture ${moved + 1} stands in another frame.`;
  for (const [i, own] of take.tracks.entries()) {
    const found = copy.tracks[i];
    if (i === 0 || !found) continue;
    const us = furthestUs(fromFirst(own.times, take), fromFirst(found.times, copy));
    if (us > soundToleranceUs) return `Its ${nameOf(i)} stands ${(us / 1000).toFixed(0)} ms from where it was.`;
  }
  return otherwiseSaid(take, copy);
}

/** What is said of the tracks, and what samples of them decode to. */
function otherwiseSaid(take: FileDigest, copy: FileDigest): string | null {
  const sameContainer = take.container === copy.container;
  for (const [i, own] of take.tracks.entries()) {
    const found = copy.tracks[i];
    if (!found) continue;
    const other = otherWord(own.words, found.words, sameContainer);
    if (other !== null) return `${other} (${nameOf(i)}).`;
    if ('why' in own.decoded) return `The take’s ${nameOf(i)} cannot be decoded here: ${own.decoded.why}.`;
    if ('why' in found.decoded) return `Its ${nameOf(i)} cannot be decoded: ${found.decoded.why}.`;
    if (own.decoded.join() !== found.decoded.join()) return `Its ${nameOf(i)} is not the same when it is decoded.`;
  }
  return null;
}

/**
 * Whether a copy holds everything that a take holds: every track byte by byte, every picture in the same frame and every sound
 * where it was beside it, sizes, colours, names and what a player takes first, and the same when samples of both are decoded. Only
 * what containers say in ways of their own may differ.
 * @param rate the take's; pictures stand in its frames
 */
export function sameTracks(
  filePath: string,
  copyPath: string,
  rate: FrameRate,
  progress: ReadProgress = () => {},
): SameTracks {
  const [take, copy] = [digest(filePath, progress), digest(copyPath, progress)];
  return {
    why: whyNot(take, copy, rate),
    pictures: take.shownUs.length,
    tracks: take.tracks.length,
    bytes: take.tracks.reduce((sum, { size }) => sum + size, 0),
  };
}
