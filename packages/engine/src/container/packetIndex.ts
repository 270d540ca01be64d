import { appendFileSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { errorText } from '@mellow/core';
import { fileLines } from '../files/pieces';
import { nowUs } from '../shared/monotonic';

/** A packet as it lies in a file that keeps its index for the end. */
export interface IndexedPacket {
  /** -1: the picture; lanes count from 0. */
  track: number;
  pts: number;
  dts: number;
  duration: number;
  key: boolean;
  /** Bytes of the file. */
  from: number;
  to: number;
}

/** Writes down, beside a plain MP4, what its index will say: whoever dies before the end leaves a file that can be rebuilt. */
export interface PacketIndex {
  /** A new file begins; what stood of the one before the last goes. */
  begin(part: number): void;
  add(packet: IndexedPacket): void;
  /** The take is closed well: nobody needs it any more. */
  remove(): void;
}

const flushEveryUs = 250_000;
/** Numbers in a line. */
const columns = 7;

export const packetIndexPath = (folder: string, part: number): string => join(folder, `packets-${part}.ndjson`);
const headPath = (folder: string): string => join(folder, 'packets.head');

/**
 * @param header the encoder's parameters, as its packets need them
 * @param trouble told once where it cannot be written; the take goes on without
 */
export function openPacketIndex(
  folder: string,
  header: Uint8Array | null,
  trouble: (why: string) => void,
): PacketIndex {
  let path = packetIndexPath(folder, 1);
  let lastPart = 1;
  let lines: string[] = [];
  let flushedUs = nowUs();
  let refused = false;
  const write = (work: () => void): void => {
    if (refused) return;
    try {
      work();
    } catch (error) {
      refused = true;
      trouble(errorText(error));
    }
  };
  const flush = (): void => {
    if (lines.length) write(() => appendFileSync(path, lines.join('')));
    lines = [];
    flushedUs = nowUs();
  };
  write(() => writeFileSync(headPath(folder), header ?? new Uint8Array()));
  return {
    begin(part) {
      flush();
      rmSync(packetIndexPath(folder, part - 2), { force: true });
      path = packetIndexPath(folder, part);
      lastPart = part;
    },
    add({ track, pts, dts, duration, key, from, to }) {
      lines.push(`${JSON.stringify([track, pts, dts, duration, key ? 1 : 0, from, to])}\n`);
      if (nowUs() - flushedUs > flushEveryUs) flush();
    },
    remove() {
      lines = [];
      for (const part of [lastPart - 1, lastPart]) rmSync(packetIndexPath(folder, part), { force: true });
      rmSync(headPath(folder), { force: true });
    },
  };
}

/** What was written down of a part. Null where nothing was. */
export function storedPacketIndex(
  folder: string,
  part: number,
): { header: Uint8Array | null; packets: () => Generator<IndexedPacket> } | null {
  const path = packetIndexPath(folder, part);
  if (!existsSync(path) || !existsSync(headPath(folder))) return null;
  const header = readFileSync(headPath(folder));
  return { header: header.length ? header : null, packets: () => packetsOf(path) };
}

/** One after the other, since a day of them fits into no memory; a line that was cut off, or is none, ends them. */
function* packetsOf(path: string): Generator<IndexedPacket> {
  for (const line of fileLines(path)) {
    const packet = packetOf(line);
    if (!packet) return;
    yield packet;
  }
}

/** By hand: a schema takes most of a minute for an hour of packets. */
function packetOf(line: string): IndexedPacket | null {
  const numbers = /^\[([-\d.,]+)\]$/.exec(line)?.[1]?.split(',').map(Number);
  if (numbers?.length !== columns || !numbers.every(Number.isFinite)) return null;
  const [track = 0, pts = 0, dts = 0, duration = 0, key = 0, from = 0, to = 0] = numbers;
  return to < from || from < 0 ? null : { track, pts, dts, duration, key: key === 1, from, to };
}
