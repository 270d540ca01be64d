import { extname, join } from 'node:path';
import { errorText } from '@mellow/core';
import type { StripePlace } from '@mellow/model';
import { openGrowingFile } from '../files/growingFile';
import { freeBytes } from '../files/freeRoom';
import { holdReserve } from '../files/reserveRoom';
import { openControl } from '../shared/control';
import { openRingReader } from '../shared/messageRing';
import { nowUs } from '../shared/monotonic';
import { openStripeFigures, type StripeMemory } from '../shared/stripeMemory';
import type { ThreadOrder } from '../shared/takeMemory';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { fileKinds } from '../shared/queueKinds';

const syncEveryUs = 1_000_000;
const ENOSPC = 28;
const EIO = 5;

/** Writes one stripe of a take's file, beside the others, and makes it durable each second. */
runThread((given) => {
  const place = given.order.stripes?.places[given.index];
  const own = given.memory.stripes[given.index];
  if (!place || !own) throw new Error('A stripe without a place was begun.');
  const figures = openStripeFigures(own);
  try {
    writeStripe(given, place, own);
  } catch (error) {
    figures.set('errno', EIO);
    throw error;
  } finally {
    // Whatever became of it, nobody has to wait for it any more.
    figures.set('closed', 1);
  }
  tell({ type: 'done' });
});

function writeStripe({ order, memory, index }: ThreadOrder, place: StripePlace, own: StripeMemory): void {
  const control = openControl(memory.control);
  const queue = openRingReader(own.ring);
  const figures = openStripeFigures(own);
  const file = openGrowingFile(place);
  const reserve = place.reservePath === null ? null : holdReserve(place.reservePath, order.reserveBytes);
  if (reserve?.trouble)
    tell({
      type: 'log',
      level: 'warn',
      text: `No room could be kept back in ${place.driveFolder}: ${reserve.trouble}`,
    });
  let lastSyncUs = nowUs();
  watch();
  tell({ type: 'ready', threadId: ownThreadId() });
  for (let ended = false; !ended;) {
    const message = queue.next(100_000);
    if (message) {
      const [kind, at] = message.fields;
      if (kind === fileKinds.end) ended = true;
      else write(at, message.payload);
      queue.done();
    } else if (control.get('failed') && control.get('driveDone')) ended = true;
    if (nowUs() - lastSyncUs >= syncEveryUs) sync();
  }
  sync();
  reserve?.giveUp();
  if (figures.get('gone')) keep();
  file.close();

  function timed(work: () => void): void {
    const startedUs = nowUs();
    work();
    const tookUs = nowUs() - startedUs;
    figures.set('busyUs', figures.get('busyUs') + tookUs);
    figures.set('worstUs', Math.max(figures.get('worstUs'), tookUs));
  }

  function write(at: number, bytes: Uint8Array): void {
    if (figures.get('errno')) return;
    let refused: { done: number; error: unknown } = { done: 0, error: null };
    timed(() => (refused = file.write(at, bytes, place.quotaBytes ?? Infinity)));
    figures.set('end', file.end());
    if (refused.error === null) return;
    // What was kept back is enough to close the file.
    if (errnoOf(refused.error) === ENOSPC && reserve?.giveUp()) {
      figures.set('reserveHeld', 0);
      control.requestStop('drive-full');
      return write(at + refused.done, bytes.subarray(refused.done));
    }
    latch(refused.error);
  }

  function sync(): void {
    lastSyncUs = nowUs();
    if (!figures.get('errno'))
      try {
        timed(() => figures.set('durable', file.sync()));
      } catch (error) {
        latch(error);
      }
    watch();
  }

  function watch(): void {
    const free = place.quotaBytes === null ? freeBytes(place.driveFolder) : place.quotaBytes - file.end();
    figures.set('leftBytes', free === null ? -1 : Math.max(0, free));
    figures.set('reserveHeld', reserve?.held() ? 1 : 0);
    if (file.lies() !== 'same') figures.set('gone', 1);
  }

  function latch(error: unknown): void {
    const why = errorText(error);
    tell({ type: 'log', level: 'error', text: `${place.driveFolder} refused bytes of its stripe: ${why}` });
    figures.set('errno', errnoOf(error));
  }

  /** The name of the file is gone, the open file may still hold every byte: they are copied beside the ledger. */
  function keep(): void {
    const path = join(order.ledgerFolder, `kept ${index + 1}${extname(order.filePath)}`);
    file.saveTo(path, (bytes) => control.setFigure('savedBytes', bytes));
    tell({ type: 'stripe', stripe: index, path });
  }
}

function errnoOf(error: unknown): number {
  const { errno, code } = error as NodeJS.ErrnoException;
  return code === 'ENOSPC' ? ENOSPC : Math.abs(errno ?? EIO);
}
