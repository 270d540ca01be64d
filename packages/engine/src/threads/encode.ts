import { join } from 'node:path';
import { AVERROR_EAGAIN, AVERROR_EOF } from 'node-av/constants';
import { FFmpegError, Packet } from 'node-av/lib';
import { encoderWords, filedSize, errorText } from '@mellow/core';
import { ledgerNames } from '../files/ledgerNames';
import { createDecodeTimes, reorderDelayOf } from '../container/decodeTimes';
import { nativePixels } from '../native/encoderNames';
import { createPictureKeeper } from '../reading/keptPictures';
import { drawLineUpMark } from '../encode/lineUpMark';
import { openPictureEncoder } from '../encode/pictureEncoder';
import { createNativeFrame, fileTags, fillNativeFrame, freshMemory } from '../native/pictureFrames';
import { openControl } from '../shared/control';
import { applyEncoderPriority } from '../shared/encoderPriority';
import { openLedgerRing } from '../shared/ledgerRing';
import { openRingReader, openRingWriter } from '../shared/messageRing';
import { openSlotPool } from '../shared/slotPool';
import { noteStation } from '../shared/stationTimes';
import { openTakeClock } from '../shared/takeClock';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { systemFacts } from '../system/systemFacts';
import { createFaults } from './faults';
import { forEachFrame } from './frameLoop';
import { packetKinds } from '../shared/queueKinds';
import { scriptedAt } from './script';

/** Pack looks every 20 ms by itself; it is woken only when so many packets wait, since every waking takes time from the encoder. */
const packetsBeforeWaking = 8;
/** A packet that is larger goes in pieces, so that it fits whatever the ring holds. */
const pieceBytes = 4 << 20;

/** Encodes accepted pictures; packets are never dropped here. */
runThread(({ order, memory }, owns) => {
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const ledger = openLedgerRing(memory.ledger);
  const { recipe } = order;
  const poolMemory = memory.sizedPool ?? memory.sourcePool;
  const pool = openSlotPool(poolMemory);
  const queue = openRingReader(memory.encodeQueue);
  const packets = openRingWriter(memory.packets);
  owns(applyEncoderPriority(recipe.priority), (takeBack) => takeBack());
  const faults = createFaults(order, 'encode');
  faults('begin');
  const before = new Set(systemFacts.threadIds());
  const encoder = owns(openPictureEncoder(recipe, recipe.encode.threads || order.encoderThreads, true), (one) =>
    one.free(),
  );
  const own = ownThreadId();
  const threads = systemFacts.threadIds().filter((id) => !before.has(id));
  // Pack needs the parameters before the first packet.
  packets.push([packetKinds.parameters, 0, 0, 0, 0], encoder.header, 5e6);
  const { widthPx, heightPx } = filedSize(recipe);
  const frames = Array.from({ length: 3 }, () =>
    owns(createNativeFrame(widthPx, heightPx, fileTags(recipe), nativePixels(recipe.encode).format), (one) =>
      one.free(),
    ),
  );
  const keeper = createPictureKeeper(order, poolMemory.layout);
  const packet = owns(new Packet(), (one) => one.free());
  packet.alloc();
  let lastFailed = false;
  let turn = 0;
  const decodeTime = createDecodeTimes(reorderDelayOf(recipe));
  tell({ type: 'log', level: 'info', text: `Encoder: ${encoderWords(recipe.encode.encoder)}.` });
  tell({ type: 'ready', threadId: own, encoderThreadIds: threads.length ? threads : own === null ? [] : [own] });
  forEachFrame(queue, control, encodePicture);
  faults('end');
  FFmpegError.throwIfError(encoder.send(null), 'closing the encoder');
  drain();
  packets.push([packetKinds.end, 0, 0, 0, 0], null, 60e6);
  storeKept();
  control.set('encodeDone', 1);
  tell({ type: 'done' });

  /** The container closes meanwhile; a picture that cannot be kept is no loss of the take. */
  function storeKept(): void {
    if (control.get('failed')) return;
    try {
      keeper.writeTo(join(order.ledgerFolder, ledgerNames.kept));
    } catch (error) {
      const why = errorText(error);
      tell({
        type: 'log',
        level: 'warn',
        text: `The picture will not be measured, what was kept of it has no room: ${why}`,
      });
    }
  }

  function stamp(n: number, column: 'encodeIn' | 'encodeOut'): void {
    if (order.clock === 'real') noteStation(ledger, recipe.rate, n, column, clock.now());
  }

  function encodePicture(n: number, slot: number, isRepeat: boolean): void {
    const frame = frames[turn++ % frames.length];
    if (!frame) return;
    faults('frame', n);
    freshMemory(frame);
    fillNativeFrame(frame, pool.planes(slot), poolMemory.layout);
    // The mark is drawn over what is compared afterwards.
    if (!drawLineUpMark(frame, n, recipe, poolMemory.layout)) keeper.see(n, pool.planes(slot));
    pool.release(slot);
    stamp(n, 'encodeIn');
    frame.pts = BigInt(n);
    // A repeat of a picture that failed has nothing to repeat.
    const fails = scriptedAt(order.script, 'encode-fails', n) !== null || (isRepeat && lastFailed);
    const code = fails ? 0 : encoder.send(frame);
    lastFailed = fails || code < 0;
    if (lastFailed) {
      tell({ type: 'log', level: 'error', text: `A frame could not be encoded${code < 0 ? `: error ${code}` : ''}.` });
      ledger.lose(n, 'encode-miss', 'encode-error', ['encodeIn', 'encodeOut', 'written']);
      return;
    }
    control.add('encoderHolds', 1);
    drain();
  }

  function drain(): void {
    for (;;) {
      const code = encoder.receive(packet);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'encoding');
      stamp(Number(packet.pts), 'encodeOut');
      control.add('encoded', 1);
      control.add('encoderHolds', -1);
      if (!handOn(packet.data ?? new Uint8Array())) return;
      packet.unref();
    }
  }

  /** @returns false when the take has failed elsewhere */
  function handOn(data: Uint8Array): boolean {
    const key = packet.isKeyframe ? 1 : 0;
    const decodeIndex = decodeTime(packet.pts, packet.dts);
    let at = 0;
    do {
      const piece = data.subarray(at, at + pieceBytes);
      at += piece.length;
      const more = at < data.length ? 1 : 0;
      const fields = [packetKinds.packet, Number(packet.pts), decodeIndex, key, more] as const;
      while (!packets.push(fields, piece, 1e6, more === 1 || packets.count() >= packetsBeforeWaking))
        if (control.get('failed')) return false;
    } while (at < data.length);
    return true;
  }
});
