import { createHeldList } from './heldList';
import type { HeldPacket, History } from './history';

interface InMemory extends HeldPacket {
  data: Uint8Array;
}

export interface HistoryOptions {
  windowFrames: number;
  limitBytes: number;
  reorders: boolean;
  /** The encoder's parameters. */
  header: Uint8Array | null;
  /** Address of the recorder, for pieces that outlive it. */
  owner: string;
}

/** Holds packets in memory: the window's length, or less where its bytes would pass the limit. */
export function createMemoryHistory({
  windowFrames,
  limitBytes,
  reorders,
  header,
}: Omit<HistoryOptions, 'owner'>): History {
  const list = createHeldList<InMemory>();
  let bytes = 0;
  const letGo = (gone: readonly InMemory[]): boolean => {
    for (const { data } of gone) bytes -= data.byteLength;
    return gone.length > 0;
  };
  return {
    push(packet, data) {
      if (list.push({ ...packet, data: data.slice() })) bytes += data.byteLength;
      letGo(list.trim(windowFrames));
      while (bytes > limitBytes && letGo(list.dropOldest()));
    },
    frames: list.frames,
    bytes: () => bytes,
    clip(wantedFrames) {
      const part = list.clip(wantedFrames, reorders);
      if (!part) return null;
      const packets = part.items.map((packet) => ({ packet, data: packet.data }));
      return { span: part.span, header, packets, done: () => {} };
    },
    close: () => {},
  };
}
