import type { Packet } from 'node-av/lib';
import type { Control } from '../shared/control';
import { openRingWriter, type RingMemory } from '../shared/messageRing';
import { heldKinds } from '../shared/queueKinds';
import { pictureTrack } from './history';

/** Pack's side of what holds the last minutes: it never waits for it. */
export interface HeldFeed {
  parameters(header: Uint8Array): void;
  picture(pts: number, dts: number, key: boolean, data: Uint8Array): void;
  sound(lane: number, packet: Packet): void;
  end(): void;
}

/** @param memory null where nothing is held */
export function createHeldFeed(memory: RingMemory | null, control: Control): HeldFeed {
  const ring = memory ? openRingWriter(memory) : null;
  const mostBytes = memory ? memory.data.byteLength / 2 - 64 : 0;
  let missing = false;
  let header: Uint8Array | null = null;
  /** What has no room is left out up to the next key picture, and counted: the file of the take has it. */
  const hand = (fields: readonly [number, number, number, number, number], data: Uint8Array): void => {
    if (!ring) return;
    if (data.byteLength < mostBytes && ring.push(fields, data, 0)) return;
    missing = true;
    control.add('heldGaps', 1);
  };
  return {
    parameters(given) {
      header = given.slice();
      hand([heldKinds.parameters, 0, 0, 0, 0], header);
    },
    picture(pts, dts, key, data) {
      // Who has begun anew knows nothing, and can use nothing before a key picture.
      if (key && header && control.exchange('heldWanted', 0)) hand([heldKinds.parameters, 0, 0, 0, 0], header);
      if (missing && !key) return;
      missing = false;
      hand([heldKinds.packet, pictureTrack, pts, dts, 2 + (key ? 1 : 0)], data);
    },
    sound(lane, { pts, dts, duration, data }) {
      if (missing || !data) return;
      hand([heldKinds.packet, lane, Number(pts), Number(dts), 2 * Number(duration) + 1], data);
    },
    // Where it has no room, its reader sees that Pack is done: nobody waits for it.
    end: () => void ring?.push([heldKinds.end, 0, 0, 0, 0], null, 0),
  };
}
