import {
  closeSync,
  fdatasyncSync,
  fstatSync,
  mkdirSync,
  openSync,
  readSync,
  statfsSync,
  statSync,
  writeSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { fileKinds } from './queueKinds';

const ENOSPC = 28;
const ENOENT = 2;
const syncEveryUs = 1_000_000;

/** Writes the file's bytes, makes them durable each second, and watches the drive. The first error stays. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const queue = openRingReader(memory.fileBytes);
  const times = openSampleLog(memory.stationTimes.drive);
  mkdirSync(dirname(order.filePath), { recursive: true });
  const file = openSync(order.filePath, 'wx+');
  let lastSyncUs = nowUs();
  let dirtyUpTo = 0;
  let highest = 0;
  let gone = false;
  control.setFigure('lastWriteUs', nowUs());
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
  const path = gone ? saveFromOpenFile() : order.filePath;
  control.setFigure('fileBytes', highest);
  closeSync(file);
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
    if (control.get('driveError') || highest === dirtyUpTo) return;
    try {
      fdatasyncSync(file);
      dirtyUpTo = highest;
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
    try {
      const here = statSync(order.filePath);
      if (here.ino !== fstatSync(file).ino) gone = true;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT' || (error as NodeJS.ErrnoException).code === 'ENOTDIR')
        gone = true;
    }
    if (gone) {
      control.requestStop('drive-gone');
      return;
    }
    const left = order.quotaBytes === null ? freeBytes(order.driveFolder) : order.quotaBytes - highest;
    if (left !== null && left < order.reserveBytes) control.requestStop('drive-full');
  }

  function latch(error: unknown): void {
    const errno = Math.abs((error as NodeJS.ErrnoException).errno ?? 5);
    tell({
      type: 'log',
      level: 'error',
      text: `The drive refused bytes: ${error instanceof Error ? error.message : String(error)}`,
    });
    control.set('driveError', errno);
    control.requestStop(errno === ENOSPC ? 'drive-full' : errno === ENOENT ? 'drive-gone' : 'drive-error');
  }

  /** The name of the file is gone, the open file may still hold every byte: they are copied beside the ledger. */
  function saveFromOpenFile(): string {
    const target = join(order.ledgerFolder, `kept${order.filePath.slice(order.filePath.lastIndexOf('.'))}`);
    const copy = openSync(target, 'w');
    const piece = Buffer.alloc(1 << 20);
    try {
      for (let at = 0; at < highest;) {
        const count = readSync(file, piece, 0, piece.length, at);
        if (count <= 0) break;
        writeSync(copy, piece, 0, count, at);
        at += count;
      }
      fdatasyncSync(copy);
    } finally {
      closeSync(copy);
    }
    return target;
  }
});

function freeBytes(folder: string): number | null {
  try {
    const room = statfsSync(folder);
    return room.bavail * room.bsize;
  } catch {
    return null;
  }
}
