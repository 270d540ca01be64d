import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { Recipe } from '@mellow/model';
import { encoderFacts } from '@mellow/core';
import { reserveFile } from '../files/reserve';
import { openClipWriting } from '../hindsight/clipWriting';
import { pictureTrack } from '../hindsight/history';
import { storedPacketIndex, type IndexedPacket } from '../container/packetIndex';

const stepPackets = 256;

/**
 * Makes a whole MP4 of one that ended before its index was written, from its packets and what was written down of them.
 * @param told told of the bytes that are done
 * @throws in words where nothing was written down, or no packet is whole
 */
export function rebuildMp4(
  source: string,
  to: string,
  { folder, part, recipe }: { folder: string; part: number; recipe: Recipe },
  told: (bytes: number) => void,
): void {
  const stored = storedPacketIndex(folder, part);
  if (!stored) throw new Error('Nothing was written down of its packets.');
  const handle = openSync(source, 'r');
  try {
    const { size } = fstatSync(handle);
    // Twice over what was written down, so that a day of it needs no memory: how far it goes, and then the packets themselves.
    let [pictures, end] = [0, 0];
    for (const { track, pts } of wholeIn(stored.packets(), size)) {
      if (track !== pictureTrack) continue;
      pictures++;
      end = Math.max(end, pts + 1);
    }
    if (!end) throw new Error('No picture of it is whole.');
    let doneBytes = 0;
    const packets = function* (): Generator<IndexedPacket> {
      for (const packet of wholeIn(stored.packets(), size)) {
        doneBytes = packet.to;
        yield packet;
      }
    };
    const writing = openClipWriting(
      recipe,
      {
        span: { first: 0, end: pictures, startPts: 0, endPts: end },
        header: stored.header,
        packets: packetsIn(handle, packets(), usesLengths(recipe, stored.header)),
        done: () => {},
      },
      reserveFile(to),
    );
    try {
      while (!writing.step(stepPackets)) told(doneBytes);
    } finally {
      writing.free();
    }
  } finally {
    closeSync(handle);
  }
}

/** Those whose bytes reached the drive. */
function* wholeIn(packets: Iterable<IndexedPacket>, size: number): Generator<IndexedPacket> {
  for (const packet of packets) if (packet.to <= size) yield packet;
}

function* packetsIn(handle: number, packets: Iterable<IndexedPacket>, lengths: boolean) {
  for (const packet of packets) {
    const data = Buffer.alloc(packet.to - packet.from);
    readSync(handle, data, 0, data.length, packet.from);
    if (lengths && packet.track === pictureTrack) withStartCodes(data);
    yield { packet, data };
  }
}

/**
 * In MP4 each unit of AVC and HEVC has its length before it, where most encoders put a start code (ISO/IEC 14496-15, 14496-10
 * annex B): who wrote start codes is given start codes again.
 */
function usesLengths({ encode }: Recipe, header: Uint8Array | null): boolean {
  const { standard } = encoderFacts[encode.encoder];
  return (standard === 'AVC' || standard === 'HEVC') && header?.[0] === 0;
}

function withStartCodes(data: Buffer): void {
  for (let at = 0; at + 4 <= data.length;) {
    const length = data.readUInt32BE(at);
    data.writeUInt32BE(1, at);
    at += 4 + length;
  }
}
