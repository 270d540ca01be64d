import { closeSync, fdatasyncSync, fsyncSync, ftruncateSync, openSync, readSync, statfsSync, writeSync } from 'node:fs';
import { dirname, extname, join } from 'node:path';
import { reserveBytes } from '@mellow/core';
import { syncFolder, writeFully } from '../files/durable';
import { holdReserve } from '../files/reserveRoom';
import { isSameOpenFile, whatLiesAt } from '../files/identity';
import { openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { fileKinds } from './queueKinds';

const ENOSPC = 28;
const ENOENT = 2;
const syncEveryUs = 1_000_000;
/** With room kept back, the take ends when so much of as much again is left: a second's bytes have to fit before it is looked again. */
const heldSpare = 0.25;

/** Writes the file's bytes, makes them durable each second, and watches the drive. The first error stays. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const queue = openRingReader(memory.fileBytes);
  const times = openSampleLog(memory.stationTimes.drive);
  // The name was reserved for this take; whatever else lies there by now is somebody's own.
  const file = openSync(order.filePath, 'r+');
  if (!isSameOpenFile(order.identity, file)) {
    closeSync(file);
    throw new Error(`Another file lies at ${order.filePath} by now. It was not touched, and nothing was recorded.`);
  }
  // What an earlier recorder began of this very take, before anything was due, is begun anew.
  ftruncateSync(file, 0);
  const reserve = order.reservePath === null ? null : holdReserve(order.reservePath, order.reserveBytes);
  let lastSyncUs = nowUs();
  let durableUpTo = 0;
  let highest = 0;
  let gone = false;
  control.setFigure('lastWriteUs', nowUs());
  control.setFigure('roomBytes', -1);
  if (reserve?.trouble) tell({ type: 'log', level: 'warn', text: `No room could be kept back: ${reserve.trouble}` });
  tell({ type: 'ready', threadId: ownThreadId() });
  for (let ended = false; !ended;) {
    const message = queue.next(100_000);
    if (message) {
      const [kind, position] = message.fields;
      if (kind === fileKinds.end) ended = true;
      else writeBytes(position, message.payload);
      queue.done();
    } else {
      if (control.get('failed') && control.get('packDone')) ended = true;
      // Nothing waits: an idle drive is not a slow one.
      if (queue.count() === 0)
        control.setFigure('lastWriteUs', Math.max(control.figure('lastWriteUs'), nowUs() - 100_000));
    }
    if (nowUs() - lastSyncUs >= syncEveryUs) {
      sync();
      watch();
    }
  }
  sync();
  watch();
  reserve?.giveUp();
  const path = gone ? saveFromOpenFile() : order.filePath;
  closeSync(file);
  syncFolder(dirname(path));
  control.set('driveDone', 1);
  tell({ type: 'done', path });

  function writeBytes(position: number, bytes: Uint8Array): void {
    if (control.get('driveError')) return;
    const startedAt = nowUs();
    let done = 0;
    try {
      while (done < bytes.length) {
        const room = order.quotaBytes === null ? bytes.length : order.quotaBytes - position - done;
        if (room <= 0) throw Object.assign(new Error('the quota of the stand-in drive is used up'), { errno: -ENOSPC });
        done += writeSync(file, bytes, done, Math.min(bytes.length - done, room), position + done);
      }
    } catch (error) {
      // Others have filled the drive: what was kept back is enough to close the file.
      if (isFull(error) && reserve?.giveUp()) {
        control.requestStop('drive-full');
        return writeBytes(position + done, bytes.subarray(done));
      }
      latch(error);
    }
    const endedAt = nowUs();
    times.add((endedAt - startedAt) / 1000);
    highest = Math.max(highest, position + done);
    control.setFigure('driveLatencyUs', Math.max(control.figure('driveLatencyUs'), endedAt - startedAt));
    control.setFigure('lastWriteUs', endedAt);
    control.setFigure('drivePosition', highest);
    control.setFigure('drivenBytes', control.figure('drivenBytes') + bytes.length);
  }

  function sync(): void {
    lastSyncUs = nowUs();
    if (control.get('driveError') || highest === durableUpTo) return;
    try {
      fdatasyncSync(file);
      durableUpTo = highest;
      control.setFigure('durableBytes', highest);
    } catch (error) {
      latch(error);
    }
    const tookUs = nowUs() - lastSyncUs;
    times.add(tookUs / 1000);
    control.setFigure('driveLatencyUs', Math.max(control.figure('driveLatencyUs'), tookUs));
  }

  /** Ends the take while it still can be closed: the room ends, or the folder is gone. */
  function watch(): void {
    if (lies() !== 'same') {
      gone = true;
      control.requestStop('drive-gone');
      return;
    }
    const left = order.quotaBytes === null ? freeBytes(order.driveFolder) : order.quotaBytes - highest;
    // Where room is kept back really, what is free may run out; the file is closed with that.
    const spared = reserve?.held() ? order.reserveBytes * heldSpare : order.reserveBytes;
    const toLimit = order.largestFileBytes === null ? Infinity : order.largestFileBytes - highest - reserveBytes;
    if (left !== null) control.setFigure('roomBytes', Math.max(0, Math.min(left - spared, toLimit)));
    if (left !== null && left < spared) {
      control.requestStop('drive-full');
      reserve?.giveUp();
    }
    // Its index still has to fit behind what is written.
    if (order.largestFileBytes !== null && order.largestFileBytes - highest < reserveBytes)
      control.requestStop('file-limit');
  }

  function lies(): 'nothing' | 'same' | 'other' {
    try {
      return whatLiesAt(order.filePath, order.identity);
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      // A drive that only answers badly for a moment is not gone; the next write decides.
      return code === 'ENOENT' || code === 'ENOTDIR' ? 'nothing' : 'same';
    }
  }

  function latch(error: unknown): void {
    const errno = Math.abs((error as NodeJS.ErrnoException).errno ?? 5);
    const why = error instanceof Error ? error.message : String(error);
    tell({ type: 'log', level: 'error', text: `The drive refused bytes: ${why}` });
    control.set('driveError', errno);
    control.requestStop(errno === ENOSPC ? 'drive-full' : errno === ENOENT ? 'drive-gone' : 'drive-error');
  }

  /** The name of the file is gone, the open file may still hold every byte: they are copied beside the ledger. */
  function saveFromOpenFile(): string {
    const target = join(order.ledgerFolder, `kept${extname(order.filePath)}`);
    const copy = openSync(target, 'wx');
    const piece = Buffer.alloc(1 << 20);
    try {
      for (let at = 0; at < highest;) {
        const count = readSync(file, piece, 0, piece.length, at);
        if (count <= 0) break;
        writeFully(copy, piece.subarray(0, count), at);
        at += count;
        // The engine waits as long as this rises, however long it takes.
        control.setFigure('savedBytes', at);
      }
      fsyncSync(copy);
    } finally {
      closeSync(copy);
    }
    return target;
  }
});

function isFull(error: unknown): boolean {
  return Math.abs((error as NodeJS.ErrnoException).errno ?? 0) === ENOSPC;
}

function freeBytes(folder: string): number | null {
  try {
    const room = statfsSync(folder);
    return room.bavail * room.bsize;
  } catch {
    return null;
  }
}
