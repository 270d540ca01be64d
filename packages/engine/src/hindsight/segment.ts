import { appendFileSync, closeSync, existsSync, fdatasyncSync, openSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { AVERROR_EIO, AVERROR_EOF, AVMEDIA_TYPE_VIDEO } from 'node-av/constants';
import { FFmpegError, Packet } from 'node-av/lib';
import { z } from 'zod';
import type { Recipe } from '@mellow/model';
import { writeFully } from '../files/durable';
import { opening, type Owns } from '../shared/disposer';
import { openFileWriter } from '../container/fileWriter';
import { openLaneEncoder } from '../sound/laneEncoder';
import { openMedia } from '../reading/readBack';
import { pictureTrack, type HeldPacket } from './history';

/** A packet in a segment: which one of its track, counted from 0. */
export interface SegmentPacket extends HeldPacket {
  segment: number;
  at: number;
  bytes: number;
}

/** Exact times of a segment's packets, a line each: Matroska keeps milliseconds and no decode times. */
const lineSchema = z.tuple([z.int(), z.int(), z.int(), z.int(), z.int(), z.int()]);

const nameOf = (folder: string, segment: number): string => join(folder, String(segment).padStart(6, '0'));
export const segmentPath = (folder: string, segment: number): string => `${nameOf(folder, segment)}.mkv`;
const timesPath = (folder: string, segment: number): string => `${nameOf(folder, segment)}.times`;

export interface SegmentWriter {
  write(packet: HeldPacket, data: Uint8Array): SegmentPacket;
  /** Brings what is complete to the drive. */
  flush(): void;
  close(): void;
}

/** Opens a Matroska file of some seconds, which survives whoever writes it. @throws where the drive refuses it */
export function openSegment(folder: string, segment: number, recipe: Recipe, header: Uint8Array | null): SegmentWriter {
  return opening((owns, dispose) => openOwned(folder, segment, recipe, header, owns, dispose));
}

function openOwned(
  folder: string,
  segment: number,
  recipe: Recipe,
  header: Uint8Array | null,
  owns: Owns,
  free: () => void,
): SegmentWriter {
  const handle = owns(openSync(segmentPath(folder, segment), 'wx'), closeSync);
  const lanes = recipe.lanes.map((lane) => ({
    lane,
    encoder: owns(openLaneEncoder(lane, 'matroska'), (one) => one.free()),
  }));
  let refused: Error | null = null;
  const opened = openFileWriter({ ...recipe, container: 'matroska' }, header, lanes, {
    write(position, bytes) {
      try {
        writeFully(handle, bytes, position);
        return 0;
      } catch (error) {
        refused ??= error instanceof Error ? error : new Error(String(error));
        return AVERROR_EIO;
      }
    },
  });
  const writer = owns(opened, (one) => one.free());
  const native = owns(new Packet(), (one) => one.free());
  native.alloc();
  const counts = new Map<number, number>();
  let lines: string[] = [];
  const check = (code: number): void => {
    if (refused) throw refused;
    FFmpegError.throwIfError(code, 'writing what is held');
  };
  const flushLines = (): void => {
    if (!lines.length) return;
    appendFileSync(timesPath(folder, segment), lines.join(''));
    lines = [];
  };
  return {
    write(packet, data) {
      const at = counts.get(packet.track) ?? 0;
      counts.set(packet.track, at + 1);
      native.unref();
      native.data = Buffer.from(data);
      native.pts = BigInt(packet.pts);
      native.dts = BigInt(packet.dts);
      native.duration = BigInt(packet.duration);
      native.isKeyframe = packet.key;
      check(packet.track === pictureTrack ? writer.writePicture(native) : writer.writeSound(packet.track, native));
      const { track, pts, dts, duration, key } = packet;
      lines.push(`${JSON.stringify([track, pts, dts, duration, key ? 1 : 0, data.byteLength])}\n`);
      return { ...packet, segment, at, bytes: data.byteLength };
    },
    flush() {
      fdatasyncSync(handle);
      flushLines();
    },
    close() {
      try {
        check(writer.close());
        flushLines();
      } finally {
        free();
      }
    },
  };
}

export function removeSegment(folder: string, segment: number): void {
  rmSync(segmentPath(folder, segment), { force: true });
  rmSync(timesPath(folder, segment), { force: true });
}

/** Exact times of the packets of a segment, as far as they were written down; a line that was cut off ends them. */
export function storedPackets(folder: string, segment: number): SegmentPacket[] {
  const path = timesPath(folder, segment);
  if (!existsSync(path)) return [];
  const counts = new Map<number, number>();
  const packets: SegmentPacket[] = [];
  for (const line of readFileSync(path, 'utf8').split('\n')) {
    const parsed = lineSchema.safeParse(jsonOf(line));
    if (!parsed.success) break;
    const [track, pts, dts, duration, key, bytes] = parsed.data;
    const at = counts.get(track) ?? 0;
    counts.set(track, at + 1);
    packets.push({ track, pts, dts, duration, key: key === 1, bytes, segment, at });
  }
  return packets;
}

function jsonOf(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}

/** Every packet of a segment in the order of the file: its track, which one of it, and its bytes. */
export function* packetsIn(
  folder: string,
  segment: number,
): Generator<{ track: number; at: number; data: Uint8Array }> {
  const context = openMedia(segmentPath(folder, segment));
  const packet = new Packet();
  packet.alloc();
  const tracks = new Map<number, number>();
  let lane = 0;
  for (const { index, codecpar } of context.streams)
    tracks.set(index, codecpar.codecType === AVMEDIA_TYPE_VIDEO ? pictureTrack : lane++);
  const counts = new Map<number, number>();
  try {
    for (;;) {
      const code = context.readFrameSync(packet);
      if (code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'reading what is held');
      const track = tracks.get(packet.streamIndex) ?? pictureTrack;
      const at = counts.get(track) ?? 0;
      counts.set(track, at + 1);
      yield { track, at, data: (packet.data ?? Buffer.alloc(0)).subarray() };
      packet.unref();
    }
  } finally {
    packet.free();
    context.closeInputSync();
  }
}

/** The encoder's parameters as the container keeps them, which is how its packets need them. */
export function headerOf(folder: string, segment: number): Uint8Array | null {
  const context = openMedia(segmentPath(folder, segment));
  try {
    const video = context.streams.find(({ codecpar }) => codecpar.codecType === AVMEDIA_TYPE_VIDEO);
    return video?.codecpar.extradata ?? null;
  } finally {
    context.closeInputSync();
  }
}
