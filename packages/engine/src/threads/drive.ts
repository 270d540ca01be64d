import { extname, join } from 'node:path';
import { reserveBytes, errorText } from '@mellow/core';
import { openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { openDriveParts } from './driveParts';
import { openDriveStripes } from './driveStripes';
import { createFaults } from './faults';
import { fileKinds } from '../shared/queueKinds';

const ENOSPC = 28;
const ENOENT = 2;
const syncEveryUs = 1_000_000;
/** With room kept back, the take ends when so much of as much again is left: a second's bytes have to fit before it is looked again. */
const heldSpare = 0.25;
/** Another folder is asked for when so many seconds' bytes still fit: a new file begins with a key picture only. */
const turnAheadS = 10;
const leastTurnAheadBytes = 4e6;

/** Writes the files' bytes, makes them durable each second, and watches the drive. The first error stays. */
runThread(({ order, memory }) => {
  const faults = createFaults(order, 'drive');
  const control = openControl(memory.control);
  const queue = openRingReader(memory.fileBytes);
  const times = openSampleLog(memory.stationTimes.drive);
  const parts = order.stripes
    ? openDriveStripes(order, order.stripes, memory.stripes, control, times)
    : openDriveParts(order, (text) => tell({ type: 'log', level: 'warn', text }));
  let lastSyncUs = nowUs();
  /** Bytes of the files before this one. */
  let base = 0;
  let bytesAtSync = 0;
  let gone = false;
  /** A new file elsewhere was asked for while this one is written. */
  let asked = false;
  control.setFigure('lastWriteUs', nowUs());
  control.setFigure('roomBytes', -1);
  tell({ type: 'ready', threadId: ownThreadId() });
  for (let ended = false; !ended;) {
    const message = queue.next(100_000);
    if (message) {
      const [kind, at, elsewhere] = message.fields;
      if (kind === fileKinds.end) ended = true;
      else if (kind === fileKinds.part) turn(at, elsewhere !== 0);
      else writeBytes(at, message.payload);
      faults('frame', Math.floor(control.figure('drivenBytes')));
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
  faults('end');
  parts.file().finish();
  sync();
  watch();
  parts.reserve()?.giveUp();
  // Stripes are kept by their own writers.
  const path = gone && !order.stripes ? saveFromOpenFile() : parts.file().path;
  parts.file().close();
  control.set('driveDone', 1);
  tell({ type: 'done', path });

  function writeBytes(position: number, bytes: Uint8Array): void {
    if (control.get('driveError')) return;
    const startedAt = nowUs();
    const file = parts.file();
    const { done, error } = file.write(position, bytes, parts.place().quotaBytes === null ? Infinity : quotaEnd());
    const endedAt = nowUs();
    // Writers of stripes tell their own times.
    if (!order.stripes) times.add((endedAt - startedAt) / 1000);
    control.setFigure('driveLatencyUs', Math.max(control.figure('driveLatencyUs'), endedAt - startedAt));
    control.setFigure('lastWriteUs', endedAt);
    control.setFigure('drivePosition', base + file.end());
    control.setFigure('drivenBytes', control.figure('drivenBytes') + done);
    if (error === null) return;
    // Others have filled the drive: what was kept back is enough to close the file, or to get to the next folder.
    if (errnoOf(error) === ENOSPC && parts.reserve()?.giveUp()) {
      if (parts.hasNext()) askForNext();
      else control.requestStop('drive-full');
      return writeBytes(position + done, bytes.subarray(done));
    }
    latch(error);
  }

  function askForNext(): void {
    if (!asked) control.set('partWanted', 1);
    asked = true;
  }

  function quotaEnd(): number {
    return parts.file().end() + (parts.left() ?? Infinity);
  }

  /** A new file begins; where the room had ended, in the next folder. */
  function turn(firstDue: number, elsewhere: boolean): void {
    if (control.get('driveError')) return;
    const ended = parts.file().end();
    try {
      const part = parts.turn(firstDue, elsewhere);
      asked = false;
      base += ended;
      tell({ type: 'part', part });
      control.add('partsTurned', 1);
    } catch (error) {
      latch(error);
    }
  }

  function sync(): void {
    lastSyncUs = nowUs();
    if (control.get('driveError')) return;
    try {
      control.setFigure('durableBytes', base + parts.file().sync());
    } catch (error) {
      latch(error);
    }
    const tookUs = nowUs() - lastSyncUs;
    times.add(tookUs / 1000);
    control.setFigure('driveLatencyUs', Math.max(control.figure('driveLatencyUs'), tookUs));
  }

  /** Ends the take while it still can be closed, or asks for the next folder: the room ends, or the folder is gone. */
  function watch(): void {
    const file = parts.file();
    if (file.lies() !== 'same') {
      gone = true;
      control.requestStop('drive-gone');
      return;
    }
    const left = parts.left();
    // Where room is kept back really, what is free may run out; the file is closed with that.
    const spared = parts.reserve()?.held() ? order.reserveBytes * heldSpare : order.reserveBytes;
    const aheadBytes = Math.max(leastTurnAheadBytes, (base + file.end() - bytesAtSync) * turnAheadS);
    bytesAtSync = base + file.end();
    const { largestFileBytes } = parts.place();
    // Its index still has to fit behind what is written.
    const toLimit = largestFileBytes === null || order.parts ? Infinity : largestFileBytes - file.end() - reserveBytes;
    if (left !== null)
      control.setFigure('roomBytes', Math.max(0, Math.min(left - spared + parts.leftElsewhere(), toLimit)));
    if (left !== null && left < spared + aheadBytes && parts.hasNext()) askForNext();
    else if (left !== null && left < spared) {
      control.requestStop('drive-full');
      parts.reserve()?.giveUp();
    }
    if (largestFileBytes !== null && largestFileBytes - file.end() < reserveBytes / (order.parts ? 10 : 1))
      control.requestStop('file-limit');
  }

  function latch(error: unknown): void {
    const errno = errnoOf(error);
    const why = errorText(error);
    tell({ type: 'log', level: 'error', text: `The drive refused bytes: ${why}` });
    control.set('driveError', errno);
    control.requestStop(errno === ENOSPC ? 'drive-full' : errno === ENOENT ? 'drive-gone' : 'drive-error');
  }

  /** The name of the file is gone, the open file may still hold every byte: they are copied beside the ledger. */
  function saveFromOpenFile(): string {
    const target = join(order.ledgerFolder, `kept${extname(order.filePath)}`);
    // The engine waits as long as this rises, however long it takes.
    parts.file().saveTo(target, (bytes) => control.setFigure('savedBytes', bytes));
    return target;
  }
});

function errnoOf(error: unknown): number {
  const { errno, code } = error as NodeJS.ErrnoException;
  return code === 'ENOSPC' ? ENOSPC : Math.abs(errno ?? 5);
}
