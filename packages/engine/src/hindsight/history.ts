import type { ClipSpan } from '@mellow/core';

/** Track of the picture; lanes count from 0. */
export const pictureTrack = -1;

/** A packet as Pack gives it to the container. */
export interface HeldPacket {
  track: number;
  /** Pictures: due frames; sound: samples at 48 kHz. */
  pts: number;
  dts: number;
  duration: number;
  key: boolean;
}

/** A part of what is held, to be written; packets come in the order they were packed. */
export interface HeldClip {
  span: ClipSpan;
  /** The encoder's parameters, as the packets need them. */
  header: Uint8Array | null;
  packets: Iterable<{ packet: HeldPacket; data: Uint8Array }>;
  /** Gives back what was held on to for it. */
  done(): void;
}

/** The last minutes as encoded packets. */
export interface History {
  /** The data is copied. */
  push(packet: HeldPacket, data: Uint8Array): void;
  frames(): number;
  bytes(): number;
  /** The last so many frames, from a key picture; null where nothing is held that can stand alone. */
  clip(wantedFrames: number): HeldClip | null;
  /** Lets everything go; on the drive it stays where somebody will want it: whoever asked for it is gone. */
  close(stays: boolean): void;
}
