import { Packet } from 'node-av/lib';
import { dueUs } from '@mellow/core';
import { openPacketIndex, type PacketIndex } from '../media/packetIndex';
import { openPartedWriter, type PartedWriter } from '../media/partedWriter';
import { openLaneEncoder } from '../media/laneEncoder';
import { openControl } from '../shared/control';
import { openLedgerRing, rowStates } from '../shared/ledgerRing';
import { openRingReader, openRingWriter } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openSoundFigures } from '../shared/soundFigures';
import { blockBeginsUs, soundBlockUs } from '../shared/soundRing';
import { noteStation } from '../shared/stationTimes';
import { openTakeClock } from '../shared/takeClock';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createLaneMixer } from './laneMixer';
import { createHeldFeed } from '../hindsight/heldFeed';
import { fileKinds, packetKinds } from './queueKinds';
import { scriptedAt } from './script';
import { createWrittenRows } from './writtenRows';

const ENOSPC = 28;
const EIO = 5;
/** Sound goes ahead of a picture that does not come by the frames that the encoder holds and so much more. */
const soundMarginUs = 500_000;
/** A picture may come in pieces of the ring's messages. */
const pieceBytes = 1 << 20;
const oneFile = { everyFrames: null, mostBytes: null };

/** Joins pictures and lanes in one file and hands its bytes to the drive thread. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const ledger = openLedgerRing(memory.ledger);
  const packets = openRingReader(memory.packets);
  const fileBytes = openRingWriter(memory.fileBytes);
  const { recipe } = order;
  const real = order.clock === 'real';
  const lanes = recipe.lanes.map((lane) => ({ lane, encoder: openLaneEncoder(lane, recipe.container) }));
  const mixer = createLaneMixer({
    lanes,
    inputs: recipe.sounds,
    sounds: memory.sounds,
    leadIn: recipe.leadIn,
    peaks: new Float64Array(memory.lanePeaks),
    loudness: new Float64Array(memory.laneLoudness),
    figures: openSoundFigures(memory.soundFigures),
    lateUs,
    failed: () => control.get('failed') !== 0,
    write: (lane, sound) => {
      held.sound(lane, sound);
      if (writer && !broken) check(writer.writeSound(lane, sound));
    },
  });
  const rows = createWrittenRows();
  const held = createHeldFeed(memory.held, control);
  const packet = new Packet();
  packet.alloc();
  let writer: PartedWriter | null = null;
  let index: PacketIndex | null = null;
  let broken = 0;
  let begun = false;
  const pieces: Uint8Array[] = [];
  /** Most frames the encoder held at once, so that sound does not overtake a picture that is still inside it. */
  let mostHeld = 0;
  tell({ type: 'ready', threadId: ownThreadId() });

  for (let ended = false; !ended;) {
    const message = packets.next(20_000);
    if (!message) {
      if (control.get('failed')) ended = true;
      else if (real && control.get('ready') && begun && control.get('stop') === 0) mixer.mixUntil(withoutPicture());
      markWritten();
      continue;
    }
    const [kind, n, decodeIndex, key, more] = message.fields;
    if (kind === packetKinds.packet) {
      if (more || pieces.length) pieces.push(message.payload.slice());
      if (!more)
        takePicture(n, decodeIndex, key === 1, pieces.length ? Buffer.concat(pieces.splice(0)) : message.payload);
    } else if (kind === packetKinds.end) ended = true;
    else {
      held.parameters(message.payload);
      begun = true;
      if (!order.unfiled) {
        // Only a container that keeps its index for the end needs it written down beside.
        if (recipe.container === 'mp4')
          index = openPacketIndex(order.ledgerFolder, message.payload.slice(), (why) =>
            tell({
              type: 'log',
              level: 'warn',
              text: `What this file’s index will say cannot be written down: ${why}. Without its end nothing of it can be played.`,
            }),
          );
        writer = openPartedWriter(
          recipe,
          message.payload.length ? message.payload.slice() : null,
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
        );
      }
    }
    packets.done();
    markWritten();
  }
  finish();

  /** How long a block's sound has been due. A take that was stopped while paused ends within a block that never goes on. */
  function lateUs(block: number): number | null {
    if (!real) return null;
    const beginsUs = blockBeginsUs(clock, block);
    if (beginsUs === Infinity && control.get('pickerDone')) return Infinity;
    return nowUs() - beginsUs - soundBlockUs;
  }

  /** How far sound may go while no picture comes: the encoder may still hold one of so long ago. */
  function withoutPicture(): number {
    mostHeld = Math.max(mostHeld, control.get('encoderHolds'));
    const patienceUs = dueUs(recipe.rate, mostHeld + 1) + soundMarginUs;
    return Math.min(clock.now() - patienceUs, dueUs(recipe.rate, order.dueFrames));
  }

  function takePicture(n: number, decodeIndex: number, key: boolean, data: Uint8Array): void {
    mixer.mixUntil(dueUs(recipe.rate, Math.max(0, decodeIndex)));
    mostHeld = Math.max(mostHeld, control.get('encoderHolds'));
    held.picture(n, decodeIndex, key, data);
    const given = writer && !broken && !scriptedAt(order.script, 'pack-omits', n);
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
  }

  function markWritten(): void {
    rows.take(control.figure('drivePosition'), (n) => {
      if (real) noteStation(ledger, recipe.rate, n, 'written', clock.fileOf(control.figure('lastWriteUs')));
      ledger.setState(n, rowStates.written);
    });
  }

  function check(code: number): void {
    if (code >= 0 || broken) return;
    broken = code;
    if (control.get('driveError') !== 0) return;
    tell({ type: 'log', level: 'error', text: `The container refused a packet: error ${code}.` });
    control.requestStop('error');
  }

  /** Bytes for the drive thread, in pieces that fit its ring; the drive's first error comes back here. */
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

  function finish(): void {
    if (begun && !broken) {
      mixer.finishAt(control.figure('endUs'));
      if (writer && !broken) check(writer.close());
    }
    if (!broken) rows.allAt(writer?.position() ?? 0);
    mixer.silenceSamples().forEach((samples, lane) => new Float64Array(memory.silence).set([samples], lane));
    held.end();
    while (!order.unfiled && !fileBytes.push([fileKinds.end, 0, 0, 0, 0], null, 1e6) && control.get('driveDone') === 0);
    control.set('packDone', 1);
    while (control.get('driveDone') === 0 && control.get('failed') === 0) control.wait('driveDone', 0, 1e6);
    markWritten();
    if (!broken && control.get('driveError') === 0 && control.get('failed') === 0) index?.remove();
    writer?.free();
    packet.free();
    for (const { encoder } of lanes) encoder.free();
    if (broken && control.get('driveError') === ENOSPC)
      tell({ type: 'log', level: 'warn', text: 'The drive was full before the file could be closed.' });
    tell({ type: 'done' });
  }
});
