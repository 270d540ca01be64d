import { existsSync, readdirSync } from 'node:fs';
import { clipSpan } from '@mellow/core';
import type { FileIdentity } from '@mellow/model';
import { pictureTrack } from './history';
import { openClipWriting, type ClipFacts } from './clipWriting';
import { heldRecipe } from './heldHead';
import { packetsOf } from './driveHistory';
import { headerOf, packetsIn, segmentPath, storedPackets, type SegmentPacket } from './segment';

/** Makes one clip of all that a recorder left on the drive when it died. @throws in words where nothing can be made of it */
export function gatherHindsight(folder: string, target: { path: string; identity: FileIdentity }): ClipFacts {
  const recipe = heldRecipe(folder);
  const segments = readdirSync(folder)
    .filter((name) => /^\d{6}\.mkv$/.test(name))
    .map((name) => Number.parseInt(name, 10))
    .sort((a, b) => a - b);
  const items = segments.flatMap((segment) => readable(folder, segment));
  const pictures = items.filter(({ track }) => track === pictureTrack);
  const span = clipSpan(pictures, Infinity, true);
  const first = items[0];
  if (!span || !first) throw new Error('No picture of it can be read.');
  const writing = openClipWriting(
    recipe,
    { span, header: headerOf(folder, first.segment), packets: packetsOf(folder, items), done: () => {} },
    target,
  );
  try {
    for (;;) {
      const facts = writing.step(256);
      if (facts) return facts;
    }
  } finally {
    writing.free();
  }
}

/** Packets that are in the piece and whose times are known: the last one was not closed. */
function readable(folder: string, segment: number): SegmentPacket[] {
  if (!existsSync(segmentPath(folder, segment))) return [];
  const there = new Set<string>();
  try {
    for (const { track, at } of packetsIn(folder, segment)) there.add(`${track}:${at}`);
  } catch {
    // What was read before it breaks off is there.
  }
  return storedPackets(folder, segment).filter(({ track, at }) => there.has(`${track}:${at}`));
}
