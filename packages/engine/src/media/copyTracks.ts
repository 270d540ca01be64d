import { AVERROR_EOF, AVMEDIA_TYPE_VIDEO } from 'node-av/constants';
import { Dictionary, FFmpegError, FormatContext, IOContext, Packet, type Stream } from 'node-av/lib';
import { AVIO_FLAG_WRITE } from 'node-av/constants';
import { readBack } from './readBack';
import { setOptions } from './setOptions';

export interface CopyOptions {
  format: 'matroska' | 'mp4';
  /** Which sound tracks to take along, by position; null takes all. */
  lanes: readonly number[] | null;
  muxer: Record<string, string>;
}

/**
 * Copies packets into a new container without encoding again. Matroska tells no decode times, so the picture track gets
 * them from its sorted presentation times, moved back by the least amount that keeps each at or before its own.
 */
export function copyTracks(from: string, to: string, options: CopyOptions): void {
  const pictureTimesUs = readBack(from).pictures.timeUs;
  const input = new FormatContext();
  FFmpegError.throwIfError(input.openInputSync(from), 'opening the file');
  const output = new FormatContext();
  try {
    FFmpegError.throwIfError(input.findStreamInfoSync(null), 'reading the file');
    FFmpegError.throwIfError(output.allocOutputContext2(null, options.format, to), 'opening the new file');
    const io = new IOContext();
    FFmpegError.throwIfError(io.open2Sync(to, AVIO_FLAG_WRITE), 'opening the new file');
    output.pb = io;
    const chosen = addTracks(input, output, options.lanes);
    setOptions(output, options.muxer);
    FFmpegError.throwIfError(output.writeHeaderSync(null), 'writing the new file');
    copyPackets(input, output, chosen, pictureTimesUs);
    FFmpegError.throwIfError(output.writeTrailerSync(), 'closing the new file');
    io.closepSync();
  } finally {
    input.closeInputSync();
  }
}

function addTracks(
  input: FormatContext,
  output: FormatContext,
  lanes: readonly number[] | null,
): Map<number, { from: Stream; to: Stream }> {
  const chosen = new Map<number, { from: Stream; to: Stream }>();
  let sound = -1;
  for (const from of input.streams) {
    const isPicture = from.codecpar.codecType === AVMEDIA_TYPE_VIDEO;
    if (!isPicture) sound++;
    if (!isPicture && lanes && !lanes.includes(sound)) continue;
    const to = output.newStream(null);
    FFmpegError.throwIfError(from.codecpar.copy(to.codecpar), 'copying a track');
    to.codecpar.codecTag = 0;
    to.timeBase = from.timeBase;
    to.avgFrameRate = from.avgFrameRate;
    to.rFrameRate = from.rFrameRate;
    to.disposition = from.disposition;
    const title = from.metadata?.get('title') ?? from.metadata?.get('handler_name');
    if (title) to.metadata = Dictionary.fromObject({ title, handler_name: title });
    chosen.set(from.index, { from, to });
  }
  return chosen;
}

function copyPackets(
  input: FormatContext,
  output: FormatContext,
  chosen: ReadonlyMap<number, { from: Stream; to: Stream }>,
  pictureTimesUs: readonly number[],
): void {
  const sorted = [...pictureTimesUs].sort((a, b) => a - b);
  const backUs = sorted.reduce((most, timeUs, i) => Math.max(most, timeUs - (pictureTimesUs[i] ?? timeUs)), 0);
  const packet = new Packet();
  packet.alloc();
  let picture = 0;
  for (;;) {
    const code = input.readFrameSync(packet);
    if (code === AVERROR_EOF) break;
    FFmpegError.throwIfError(code, 'reading the file');
    const track = chosen.get(packet.streamIndex);
    if (track) {
      if (track.from.codecpar.codecType === AVMEDIA_TYPE_VIDEO) {
        const base = track.from.timeBase;
        packet.dts = BigInt(Math.floor((((sorted[picture++] ?? 0) - backUs) * base.den) / (base.num * 1e6)));
        if (packet.dts > packet.pts) packet.dts = packet.pts;
      }
      packet.rescaleTs(track.from.timeBase, track.to.timeBase);
      packet.streamIndex = track.to.index;
      FFmpegError.throwIfError(output.interleavedWriteFrameSync(packet), 'writing the new file');
    }
    packet.unref();
  }
  packet.free();
}
