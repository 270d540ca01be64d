import { Packet, FFmpegError } from 'node-av/lib';
import { dueUs, sampleRateHz } from '@mellow/core';
import type { PartOrder, Recipe } from '@mellow/model';
import { openFileWriter, type ByteSink, type FileWriter } from './fileWriter';
import type { IndexedPacket } from './packetIndex';

type Lanes = Parameters<typeof openFileWriter>[2];

export interface PartSink extends ByteSink {
  /** From here on bytes belong to a new file, whose first picture is due n. */
  nextPart(n: number): void;
}

export interface PartedWriter {
  /** Time stamps in due indices of the take; a negative library error or 0 comes back. */
  writePicture(packet: Packet): number;
  /** Time stamps in samples of the take. */
  writeSound(lane: number, packet: Packet): number;
  /** A lane brings nothing for now: a cut does not wait for it. */
  laneAway(lane: number, away: boolean): void;
  /** Bytes of all parts that will not be touched before their end. */
  position(): number;
  close(): number;
  free(): void;
}

export interface PartEvents {
  /** A picture was given to its file, which may keep the last `keepsBack` of them. */
  written(n: number, position: number, keepsBack: number): void;
  /** A part was closed; all before is in its bytes. */
  closed(position: number): void;
  /** Where a packet lies in its file, as far as its container has handed it out. */
  packed?(packet: IndexedPacket): void;
  /** A new file begins, counted from 1. */
  begun?(part: number): void;
  /** The drive asks for a new part as soon as there can be one. */
  wanted(): boolean;
}

/** Number of the picture's track; lanes count from 0. */
const pictureTrack = -1;
/** A group of pictures may be so much larger than the largest before it. */
const groupMargin = 1.5;
/** An index takes so much at its end in the worst case (ISO/IEC 14496-12: four tables of a plain MP4), and each of its packets. */
export const indexBytes = { file: 200_000, packet: 48 };
/**
 * Writes a take into one file, or one after the other. A part begins with a key picture and with the first packet of each
 * lane that begins no earlier; both count from the key picture's own time, so that the parts joined at their beginnings are
 * the take again, without a frame or a sample less. Pictures wait at a cut until each
 * lane has reached it: sound is mixed up to each picture, so they never wait for longer than a lane's encoder holds back.
 */
export function openPartedWriter(
  recipe: Recipe,
  header: Uint8Array | null,
  lanes: Lanes,
  sink: PartSink,
  parts: Pick<PartOrder, 'everyFrames' | 'mostBytes'>,
  events: PartEvents,
): PartedWriter {
  let writer: FileWriter = openFileWriter(recipe, header, lanes, sink);
  let firstDue = 0;
  let part = 1;
  let base = 0;
  let groupBegan = 0;
  let largestGroup = 0;
  /** Packets of the file so far. */
  let packets = 0;
  /** The cut that is being made: where, which lanes have reached it, and what waits for the new file. */
  let cut: {
    n: number;
    startSample: number;
    reached: boolean[];
    waiting: { lane: number | null; packet: Packet }[];
  } | null = null;
  const away = lanes.map(() => false);
  const startSampleOf = (n: number): number => Math.round((dueUs(recipe.rate, n) * sampleRateHz) / 1e6);
  const position = (): number => base + writer.position();

  function isDue(n: number): boolean {
    if (n === firstDue) return false;
    if (events.wanted()) return true;
    const { everyFrames, mostBytes } = parts;
    if (everyFrames !== null && Math.floor(n / everyFrames) > Math.floor(firstDue / everyFrames)) return true;
    return (
      mostBytes !== null &&
      writer.position() + largestGroup * groupMargin + indexBytes.file + packets * indexBytes.packet > mostBytes
    );
  }

  function noteGroup(): void {
    largestGroup = Math.max(largestGroup, writer.position() - groupBegan);
    groupBegan = writer.position();
  }

  function begin(n: number): void {
    cut = { n, startSample: startSampleOf(n), reached: lanes.map(() => false), waiting: [] };
  }

  const isReached = (): boolean => cut !== null && cut.reached.every((reached, lane) => reached || away[lane]);

  function wait(lane: number | null, packet: Packet): void {
    const own = new Packet();
    own.alloc();
    FFmpegError.throwIfError(own.ref(packet), 'keeping a packet for the next part');
    cut?.waiting.push({ lane, packet: own });
  }

  /** The old file is closed, the new one begins with what has waited. */
  function turn(): number {
    const made = cut;
    if (!made) return 0;
    cut = null;
    const code = writer.close();
    if (code < 0) {
      for (const { packet } of made.waiting) packet.free();
      return code;
    }
    base = position();
    events.closed(base);
    writer.free();
    sink.nextPart(made.n);
    events.begun?.(++part);
    firstDue = made.n;
    groupBegan = 0;
    packets = 0;
    writer = openFileWriter(recipe, header, lanes, sink, true);
    let failed = 0;
    for (const { lane, packet } of made.waiting) {
      if (failed >= 0) failed = lane === null ? picture(packet) : sound(lane, packet);
      packet.free();
    }
    return failed;
  }

  function picture(packet: Packet): number {
    const n = Number(packet.pts);
    packet.pts -= BigInt(firstDue);
    packet.dts -= BigInt(firstDue);
    packets++;
    const code = placed(pictureTrack, packet, () => writer.writePicture(packet));
    events.written(n, position(), writer.keepsBack);
    return code;
  }

  /** Writes a packet and tells where it went; the muxer changes its time stamps on the way. */
  function placed(track: number, { pts, dts, duration, isKeyframe }: Packet, write: () => number): number {
    const times = { pts: Number(pts), dts: Number(dts), duration: Number(duration), key: isKeyframe };
    const from = writer.position();
    const code = write();
    events.packed?.({ track, ...times, from, to: writer.position() });
    return code;
  }

  function sound(lane: number, packet: Packet): number {
    const startSample = BigInt(startSampleOf(firstDue));
    packet.pts -= startSample;
    packet.dts -= startSample;
    packets++;
    return placed(lane, packet, () => writer.writeSound(lane, packet));
  }

  return {
    writePicture(packet) {
      if (packet.isKeyframe) noteGroup();
      if (!cut && packet.isKeyframe && isDue(Number(packet.pts))) {
        begin(Number(packet.pts));
      }
      if (!cut) return picture(packet);
      wait(null, packet);
      return isReached() ? turn() : 0;
    },
    writeSound(lane, packet) {
      if (!cut || packet.pts < BigInt(cut.startSample)) return sound(lane, packet);
      wait(lane, packet);
      cut.reached[lane] = true;
      return isReached() ? turn() : 0;
    },
    laneAway(lane, isAway) {
      away[lane] = isAway;
    },
    position,
    close() {
      const code = turn();
      return code < 0 ? code : writer.close();
    },
    free() {
      for (const { packet } of cut?.waiting ?? []) packet.free();
      writer.free();
    },
  };
}
