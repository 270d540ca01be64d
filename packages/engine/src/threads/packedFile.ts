import { Packet } from 'node-av/lib';
import { errorText } from '@mellow/core';
import { openPacketIndex, type PacketIndex } from '../container/packetIndex';
import { openPartedWriter, type PartedWriter } from '../container/partedWriter';
import type { Control } from '../shared/control';
import type { Owns } from '../shared/disposer';
import { openLedgerRing, rowStates } from '../shared/ledgerRing';
import { openRingWriter } from '../shared/messageRing';
import type { ThreadOrder } from '../shared/takeMemory';
import { tell } from '../shared/threadPort';
import type { MixedLane } from './laneMixer';
import { fileKinds } from '../shared/queueKinds';
import { createWrittenRows } from './writtenRows';

const EIO = 5;
/** Bytes go to the drive in pieces that fit its ring. */
const pieceBytes = 1 << 20;
const oneFile = { everyFrames: null, mostBytes: null };

export interface PackedPicture {
  /** Due index, and its place in the order of decoding. */
  n: number;
  decodeIndex: number;
  key: boolean;
  data: Uint8Array;
}

/** The take's container, whose bytes go to the drive thread. Its first failure stays; what comes after it is left out. */
export interface PackedFile {
  /** Opens it. @param header the encoder's parameters */
  begin(header: Uint8Array): void;
  /** @param omitted it is left out of the file, by script */
  picture(picture: PackedPicture, omitted: boolean): void;
  sound(lane: number, packet: Packet): void;
  /** A lane has no encoder for now, or has one again: a cut does not wait for it meanwhile. */
  laneAway(lane: number, away: boolean): void;
  /** Pictures whose last byte is with the drive are told. @param written called with each, in order of decoding */
  markWritten(written: (n: number) => void): void;
  /** The take has to end: nothing more is written, but the container is closed. */
  breakOff(error: unknown): void;
  begun(): boolean;
  /** Whether the container or the drive has refused something. */
  refused(): boolean;
  /** Closes the container as well as it can be, and tells the drive that nothing more comes. */
  close(): void;
  /** The drive is through: what was written down for a rescue goes where nobody needs it. */
  end(): void;
}

/** @param lanes their encoders must outlive it */
export function createPackedFile(
  { order, memory }: ThreadOrder,
  control: Control,
  lanes: readonly MixedLane[],
  owns: Owns,
): PackedFile {
  const { recipe } = order;
  const ledger = openLedgerRing(memory.ledger);
  const fileBytes = openRingWriter(memory.fileBytes);
  const rows = createWrittenRows();
  const packet = owns(new Packet(), (one) => one.free());
  packet.alloc();
  let writer: PartedWriter | null = null;
  let index: PacketIndex | null = null;
  let begun = false;
  /** A library error of the container, which cannot be closed then. */
  let refused = 0;
  /** Something else has failed; the container is whole so far. */
  let brokenOff = false;

  function check(code: number): void {
    if (code >= 0 || refused) return;
    refused = code;
    if (control.get('driveError') !== 0) return;
    tell({ type: 'log', level: 'error', text: `The container refused a packet: error ${code}.` });
    control.requestStop('error');
  }

  /** The drive's first error comes back here. */
  function handOn(position: number, bytes: Uint8Array): number {
    for (let at = 0; at < bytes.length; at += pieceBytes) {
      const error = control.get('driveError');
      if (error) return -error;
      const part = bytes.subarray(at, at + pieceBytes);
      control.setFigure('handedBytes', control.figure('handedBytes') + part.length);
      while (!fileBytes.push([fileKinds.bytes, position + at, 0, 0, 0], part, 1e6)) {
        if (control.get('driveError') || control.get('failed')) return -(control.get('driveError') || EIO);
      }
    }
    return 0;
  }

  function nextPart(n: number): void {
    const elsewhere = control.exchange('partWanted', 0);
    while (!fileBytes.push([fileKinds.part, n, elsewhere, 0, 0], null, 1e6))
      if (control.get('driveError') || control.get('failed')) return;
  }

  /** Only a container that keeps its index for the end needs it written down beside. */
  function openIndex(header: Uint8Array): PacketIndex | null {
    if (recipe.container !== 'mp4') return null;
    return openPacketIndex(order.ledgerFolder, header.slice(), (why) =>
      tell({
        type: 'log',
        level: 'warn',
        text: `What this file’s index will say cannot be written down: ${why}. Without its end nothing of it can be played.`,
      }),
    );
  }

  function breakOff(error: unknown): void {
    if (brokenOff) return;
    brokenOff = true;
    tell({ type: 'broken', text: `Pack: ${errorText(error)}` });
    control.requestStop('error');
  }

  return {
    begin(header) {
      begun = true;
      if (order.unfiled) return;
      index = openIndex(header);
      writer = owns(
        openPartedWriter(
          recipe,
          header.length ? header.slice() : null,
          lanes,
          { write: handOn, nextPart },
          order.parts ?? oneFile,
          {
            written: rows.add,
            closed: rows.allAt,
            wanted: () => control.get('partWanted') !== 0,
            packed: index?.add,
            begun: index?.begin,
          },
        ),
        (one) => one.free(),
      );
    },
    picture({ n, decodeIndex, key, data }, omitted) {
      const given = writer !== null && !refused && !brokenOff && !omitted;
      // A take that breaks off keeps what its container holds; rows that never reach it are told when the file is read back.
      ledger.setState(n, rowStates.packed);
      if (writer && given) {
        packet.unref();
        packet.data = Buffer.from(data);
        packet.pts = BigInt(n);
        packet.dts = BigInt(decodeIndex);
        packet.isKeyframe = key;
        check(writer.writePicture(packet));
      }
      // Where nothing is filed, a picture is done with here; a container may keep the last one back until it knows its length.
      if (order.unfiled) ledger.setState(n, rowStates.written);
      else if (!given) rows.add(n, writer?.position() ?? 0, 1);
    },
    sound(lane, sound) {
      if (writer && !refused && !brokenOff) check(writer.writeSound(lane, sound));
    },
    laneAway: (lane, away) => writer?.laneAway(lane, away),
    markWritten(written) {
      rows.take(control.figure('drivePosition'), (n) => {
        written(n);
        ledger.setState(n, rowStates.written);
      });
    },
    breakOff,
    begun: () => begun,
    refused: () => refused !== 0,
    close() {
      try {
        if (writer && !refused) check(writer.close());
      } catch (error) {
        refused ||= -EIO;
        breakOff(error);
      }
      if (!refused) control.set('containerClosed', 1);
      if (!refused) rows.allAt(writer?.position() ?? 0);
      while (
        !order.unfiled &&
        !fileBytes.push([fileKinds.end, 0, 0, 0, 0], null, 1e6) &&
        control.get('driveDone') === 0
      );
    },
    end() {
      if (!refused && control.get('driveError') === 0 && control.get('failed') === 0) index?.remove();
    },
  };
}
