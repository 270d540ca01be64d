import { createHash, type Hash } from 'node:crypto';
import type { FrameRate, SameTracks } from '@mellow/model';
import { AVERROR_EOF, AVMEDIA_TYPE_AUDIO, AVMEDIA_TYPE_VIDEO } from 'node-av/constants';
import { FFmpegError, Packet } from 'node-av/lib';
import { dueUs, nearestDue } from '@mellow/core';
import { openMedia, type ReadProgress } from './readBack';

interface TrackDigest {
  bytes: Hash;
  size: number;
}
interface FileDigest {
  tracks: TrackDigest[];
  /** Times of the pictures, in the order they are shown. */
  shownUs: number[];
}

/** Every byte of every track, in the order of the file, and where its pictures stand. */
function digest(path: string, progress: ReadProgress): FileDigest {
  const input = openMedia(path);
  const packet = new Packet();
  packet.alloc();
  const video = input.streams.find(({ codecpar }) => codecpar.codecType === AVMEDIA_TYPE_VIDEO);
  const sounds = input.streams.filter(({ codecpar }) => codecpar.codecType === AVMEDIA_TYPE_AUDIO);
  const kept = [...(video ? [video] : []), ...sounds];
  const tracks = new Map(kept.map(({ index }) => [index, { bytes: createHash('sha256'), size: 0 }]));
  const perTickUs = video ? (1e6 * video.timeBase.num) / video.timeBase.den : 1;
  const shownUs: number[] = [];
  let read = 0;
  try {
    for (;;) {
      const code = input.readFrameSync(packet);
      if (code === AVERROR_EOF) break;
      FFmpegError.throwIfError(code, 'reading the file');
      const track = tracks.get(packet.streamIndex);
      const data = packet.data;
      if (track && data) {
        track.bytes.update(data);
        track.size += data.length;
      }
      if (packet.streamIndex === video?.index) shownUs.push(Number(packet.pts) * perTickUs);
      read += packet.size;
      packet.unref();
      progress(read, null);
    }
  } finally {
    packet.free();
    input.closeInputSync();
  }
  return { tracks: [...tracks.values()], shownUs: shownUs.sort((a, b) => a - b) };
}

/**
 * Whether a copy holds everything that a take holds: every track byte by byte, and every picture in the same frame, counted
 * from the first. What the containers say around it may differ.
 * @param rate the take's; pictures stand in its frames
 */
export function sameTracks(
  filePath: string,
  copyPath: string,
  rate: FrameRate,
  progress: ReadProgress = () => {},
): SameTracks {
  const [take, copy] = [digest(filePath, progress), digest(copyPath, progress)];
  const framesOf = ({ shownUs }: FileDigest): number[] => {
    const first = nearestDue(rate, shownUs[0] ?? 0);
    const offUs = (shownUs[0] ?? 0) - dueUs(rate, first);
    return shownUs.map((us) => nearestDue(rate, us - offUs) - first);
  };
  const why = ((): string | null => {
    if (take.tracks.length !== copy.tracks.length)
      return `It has ${copy.tracks.length} tracks, the take ${take.tracks.length}.`;
    if (take.shownUs.length !== copy.shownUs.length)
      return `It has ${copy.shownUs.length} pictures, the take ${take.shownUs.length}.`;
    const other = take.tracks.findIndex(({ bytes }, i) => bytes.digest('hex') !== copy.tracks[i]?.bytes.digest('hex'));
    if (other >= 0) return `Its ${other === 0 ? 'picture' : `lane ${other}`} is not the same byte by byte.`;
    const [own, found] = [framesOf(take), framesOf(copy)];
    const moved = own.findIndex((frame, i) => frame !== found[i]);
    return moved >= 0 ? `Its picture ${moved + 1} stands in another frame.` : null;
  })();
  return {
    why,
    pictures: take.shownUs.length,
    tracks: take.tracks.length,
    bytes: take.tracks.reduce((sum, { size }) => sum + size, 0),
  };
}
