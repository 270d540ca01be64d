import { clipSpan, type ClipSpan } from '@mellow/core';
import { pictureTrack, type HeldPacket } from './history';

/** Packets in the order they were packed, the oldest let go from key picture to key picture. */
export interface HeldList<T extends HeldPacket> {
  /** @returns false where it is not held: nothing can be shown before the first key picture */
  push(item: T): boolean;
  /** Lets everything go that is older than the key picture before the window. @returns what went */
  trim(windowFrames: number): T[];
  /** Lets the oldest group of pictures go, never the last. */
  dropOldest(): T[];
  frames(): number;
  /** The last frames, with the sound of the group before: it may have been packed ahead of the pictures. */
  clip(wantedFrames: number, reorders: boolean): { span: ClipSpan; items: T[] } | null;
}

/** So many let go items wait in front before the list is moved. */
const slack = 4096;

export function createHeldList<T extends HeldPacket>(): HeldList<T> {
  let items: T[] = [];
  let head = 0;
  /** Places of key pictures in `items`; those before `firstKey` are gone. */
  let keys: number[] = [];
  let firstKey = 0;
  let newestPts = -1;
  const ptsOfKey = (key: number): number => items[keys[key] ?? -1]?.pts ?? Infinity;

  function cutBefore(key: number): T[] {
    const at = keys[key];
    if (key <= firstKey || at === undefined) return [];
    const gone = items.slice(head, at);
    head = at;
    firstKey = key;
    if (head > slack) {
      items = items.slice(head);
      keys = keys.slice(firstKey).map((place) => place - head);
      head = 0;
      firstKey = 0;
    }
    return gone;
  }

  return {
    push(item) {
      if (item.track === pictureTrack) {
        if (item.key) keys.push(items.length);
        newestPts = Math.max(newestPts, item.pts);
      }
      if (keys.length) items.push(item);
      return keys.length > 0;
    },
    trim(windowFrames) {
      let key = firstKey;
      while (ptsOfKey(key + 1) <= newestPts + 1 - windowFrames) key++;
      return cutBefore(key);
    },
    dropOldest: () => cutBefore(firstKey + 1),
    frames: () => (keys.length ? newestPts + 1 - ptsOfKey(firstKey) : 0),
    clip(wantedFrames, reorders) {
      const places: number[] = [];
      for (let i = head; i < items.length; i++) if (items[i]?.track === pictureTrack) places.push(i);
      const span = clipSpan(
        places.flatMap((place) => items[place] ?? []),
        wantedFrames,
        reorders,
      );
      const first = places[span?.first ?? -1];
      if (!span || first === undefined) return null;
      const from = keys.slice(firstKey).findLast((key) => key < first) ?? head;
      const before = places.findIndex((place) => place >= from);
      return { span: { ...span, first: span.first - before, end: span.end - before }, items: items.slice(from) };
    },
  };
}
