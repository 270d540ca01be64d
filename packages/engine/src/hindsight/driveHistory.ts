import { mkdirSync, rmSync } from 'node:fs';
import { framesPerSecond } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import { nowUs } from '../shared/monotonic';
import { writeHead } from './heldHead';
import { createHeldList } from './heldList';
import { pictureTrack, type History } from './history';
import type { HistoryOptions } from './memoryHistory';
import { headerOf, openSegment, packetsIn, removeSegment, type SegmentPacket, type SegmentWriter } from './segment';

/** A piece of what is held is at least so long; with its key picture's distance it is what waits too long at the most. */
const segmentS = 10;
const flushEveryUs = 1e6;

/** Holds packets on the drive, in pieces that are whole files: they outlive the recorder. */
export function createDriveHistory(folder: string, recipe: Recipe, options: HistoryOptions): History {
  const { windowFrames, reorders, header } = options;
  // What one before left, that failed or whose thread has died, is nobody’s any more: its list was in memory.
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  writeHead(folder, recipe, options.owner);
  const list = createHeldList<SegmentPacket>();
  const segmentFrames = Math.ceil(segmentS * framesPerSecond(recipe.rate));
  /** Pieces on the drive, the last one growing. */
  const there: number[] = [];
  let writer: SegmentWriter | null = null;
  let beganPts = 0;
  let newestPts = 0;
  let serial = 0;
  let bytes = 0;
  let flushedUs = nowUs();
  /** Clips that are being written from pieces which must not go. */
  let readers = 0;

  function begin(): SegmentWriter {
    close();
    there.push(++serial);
    beganPts = newestPts;
    writer = openSegment(folder, serial, recipe, header);
    return writer;
  }
  function close(): void {
    const last = writer;
    writer = null;
    last?.close();
  }
  /** Pieces of which nothing is held any more go. */
  function clear(oldest: number): void {
    while (readers === 0 && there[0] !== undefined && there[0] < oldest) removeSegment(folder, there.shift() ?? 0);
  }

  return {
    push(packet, data) {
      const isPicture = packet.track === pictureTrack;
      if (isPicture) newestPts = Math.max(newestPts, packet.pts);
      const due = isPicture && packet.key && (!writer || packet.pts - beganPts >= segmentFrames);
      // Nothing is held before the first key picture; after a clip the next piece begins anywhere.
      const open = due ? begin() : (writer ?? (serial ? begin() : null));
      if (!open) return;
      const held = open.write(packet, data);
      list.push(held);
      bytes += held.bytes;
      const gone = list.trim(windowFrames);
      for (const item of gone) bytes -= item.bytes;
      const last = gone.at(-1);
      if (last) clear(last.segment);
      if (nowUs() - flushedUs < flushEveryUs) return;
      flushedUs = nowUs();
      open.flush();
    },
    frames: list.frames,
    bytes: () => bytes,
    clip(wantedFrames) {
      const part = list.clip(wantedFrames, reorders);
      const first = part?.items[0];
      if (!part || !first) return null;
      // Only a closed piece can be read to its end.
      close();
      readers++;
      return {
        span: part.span,
        header: headerOf(folder, first.segment),
        packets: packetsOf(folder, part.items),
        done: () => void readers--,
      };
    },
    close(stays) {
      try {
        close();
      } finally {
        if (!stays) rmSync(folder, { recursive: true, force: true });
      }
    },
  };
}

/** Packets of several pieces with the exact times they had. */
export function* packetsOf(folder: string, items: readonly SegmentPacket[]) {
  const wanted = new Map<number, Map<string, SegmentPacket>>();
  for (const item of items) {
    const those = wanted.get(item.segment) ?? new Map<string, SegmentPacket>();
    those.set(`${item.track}:${item.at}`, item);
    wanted.set(item.segment, those);
  }
  for (const [segment, those] of wanted)
    for (const { track, at, data } of packetsIn(folder, segment)) {
      const packet = those.get(`${track}:${at}`);
      if (packet) yield { packet, data };
    }
}
