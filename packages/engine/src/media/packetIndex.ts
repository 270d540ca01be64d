import { appendFileSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';
import { errorText } from '@mellow/core';
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
const lineSchema = z.tuple([z.int(), z.number(), z.number(), z.number(), z.int(), z.int(), z.int()]);

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

/** What was written down of a part; a line that was cut off ends it. Null where nothing was. */
export function storedPacketIndex(
  folder: string,
  part: number,
): { header: Uint8Array | null; packets: IndexedPacket[] } | null {
  const path = packetIndexPath(folder, part);
  if (!existsSync(path) || !existsSync(headPath(folder))) return null;
  const packets: IndexedPacket[] = [];
  for (const line of readFileSync(path, 'utf8').split('\n')) {
    const parsed = lineSchema.safeParse(jsonOf(line));
    if (!parsed.success) break;
    const [track, pts, dts, duration, key, from, to] = parsed.data;
    packets.push({ track, pts, dts, duration, key: key === 1, from, to });
  }
  const header = readFileSync(headPath(folder));
  return { header: header.length ? header : null, packets };
}

function jsonOf(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return null;
  }
}
