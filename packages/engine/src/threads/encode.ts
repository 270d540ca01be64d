import { readdirSync } from 'node:fs';
import { AVERROR_EAGAIN, AVERROR_EOF } from 'node-av/constants';
import { FFmpegError, Frame, Packet } from 'node-av/lib';
import { dueUs, fileRange, passesThrough } from '@mellow/core';
import { nativePixels } from '../media/encoderNames';
import { openPictureEncoder } from '../media/pictureEncoder';
import { openPictureFilter } from '../media/pictureFilter';
import { createNativeFrame, fillNativeFrame } from '../media/pictureFrames';
import { openControl } from '../shared/control';
import { openLedgerRing } from '../shared/ledgerRing';
import { openRingReader, openRingWriter } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openSlotPool } from '../shared/slotPool';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { forEachFrame } from './frameLoop';
import { packetKinds } from './queueKinds';
import { scriptedAt } from './script';

/** Pack looks every 20 ms by itself; it is woken only when so many packets wait, since every waking takes time from the encoder. */
const packetsBeforeWaking = 8;

/** Encodes accepted pictures; packets are never dropped here. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const ledger = openLedgerRing(memory.ledger);
  const { recipe } = order;
  const plain = passesThrough(order.game, recipe);
  const pool = openSlotPool(plain ? memory.sourcePool : (memory.sizedPool ?? memory.sourcePool));
  const queue = openRingReader(memory.encodeQueue);
  const packets = openRingWriter(memory.packets);
  const before = new Set(threadIds());
  const { context: encoder, native } = openPictureEncoder(recipe, recipe.encode.threads || order.encoderThreads, true);
  const own = ownThreadId();
  const threads = threadIds().filter((id) => !before.has(id));
  const header = encoder.extraData;
  // Pack needs the parameters before the first packet.
  packets.push([packetKinds.end + 1, 0, 0, 0, 0], header ? new Uint8Array(header) : null, 5e6);
  const frames = Array.from({ length: 3 }, () =>
    createNativeFrame(recipe.size.widthPx, recipe.size.heightPx, fileRange(recipe)),
  );
  const pixels = nativePixels(recipe.encode);
  // The game's pictures are 4:2:0; other kinds of pixel are made here, on the way into the encoder.
  const converter =
    pixels.name === 'yuv420p' || pixels.name === 'yuvj420p'
      ? null
      : openPictureFilter(recipe.size.widthPx, recipe.size.heightPx, fileRange(recipe), `format=${pixels.name}`);
  const converted = new Frame();
  converted.alloc();
  const packet = new Packet();
  packet.alloc();
  let lastFailed = false;
  let turn = 0;
  tell({ type: 'log', level: 'info', text: `Encoder: ${native}.` });
  tell({ type: 'ready', threadId: own, encoderThreadIds: threads.length ? threads : own === null ? [] : [own] });
  forEachFrame(queue, control, encodePicture);
  FFmpegError.throwIfError(encoder.sendFrameSync(null), 'closing the encoder');
  drain();
  packets.push([packetKinds.end, 0, 0, 0, 0], null, 60e6);
  encoder.freeContext();
  packet.free();
  converter?.free();
  converted.free();
  for (const frame of frames) frame.free();
  control.set('encodeDone', 1);
  tell({ type: 'done' });

  function stamp(n: number, column: 'encodeIn' | 'encodeOut'): void {
    if (order.clock === 'real') ledger.set(n, column, nowUs() - control.figure('dueZeroUs') - dueUs(recipe.rate, n));
  }

  function encodePicture(n: number, slot: number, isRepeat: boolean): void {
    const frame = frames[turn++ % frames.length];
    if (!frame) return;
    if (!frame.isWritable) FFmpegError.throwIfError(frame.makeWritable(), 'memory for a picture');
    fillNativeFrame(frame, pool.picture(slot));
    pool.release(slot);
    stamp(n, 'encodeIn');
    // A repeat of a picture that failed has nothing to repeat.
    const fails = scriptedAt(order.script, 'encode-fails', n) !== null || (isRepeat && lastFailed);
    let code = 0;
    if (!fails) {
      code = encoder.sendFrameSync(toPixels(frame, n));
    }
    lastFailed = fails || code < 0;
    if (lastFailed) {
      tell({
        type: 'log',
        level: 'error',
        text: `Frame ${n} could not be encoded${code < 0 ? `: error ${code}` : ' (scripted)'}.`,
      });
      ledger.lose(n, 'encode-miss', 'encode-error', ['encodeIn', 'encodeOut', 'written']);
      return;
    }
    drain();
  }

  function toPixels(frame: Frame, n: number): Frame {
    frame.pts = BigInt(n);
    if (!converter) {
      // Motion JPEG has a name of its own for full-range 4:2:0; the samples are the same.
      frame.format = pixels.format;
      return frame;
    }
    converted.unref();
    converter.run(frame, converted);
    converted.pts = BigInt(n);
    return converted;
  }

  function drain(): void {
    for (;;) {
      const code = encoder.receivePacketSync(packet);
      if (code === AVERROR_EAGAIN || code === AVERROR_EOF) return;
      FFmpegError.throwIfError(code, 'encoding');
      const n = Number(packet.pts);
      stamp(n, 'encodeOut');
      control.add('encoded', 1);
      while (
        !packets.push(
          [packetKinds.packet, n, Number(packet.dts), packet.isKeyframe ? 1 : 0, 0],
          packet.data,
          1e6,
          packets.count() >= packetsBeforeWaking,
        )
      ) {
        if (control.get('failed')) return;
      }
      packet.unref();
    }
  }
});

function threadIds(): number[] {
  try {
    return readdirSync('/proc/self/task').map(Number);
  } catch {
    return [];
  }
}
