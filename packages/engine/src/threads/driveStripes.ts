import { placeInStripes, roomInStripes, wholeInStripes } from '@mellow/core';
import type { StripeOrder, TakeOrder } from '@mellow/model';
import type { GrowingFile } from '../files/growingFile';
import type { Control } from '../shared/control';
import { openRingWriter } from '../shared/messageRing';
import type { SampleLog } from '../shared/sampleLog';
import { openStripeFigures, type StripeMemory } from '../shared/stripeMemory';
import { sleepUs } from '../shared/monotonic';
import type { DriveParts } from './driveParts';
import { fileKinds } from '../shared/queueKinds';

const pushPatienceUs = 50_000;

/** A file that is spread over several: each block goes to the writer of its stripe, who has a thread of its own. */
export function openDriveStripes(
  order: TakeOrder,
  layout: StripeOrder,
  memory: readonly StripeMemory[],
  control: Control,
  times: SampleLog,
): DriveParts {
  const stripes = memory.map((one) => ({ ring: openRingWriter(one.ring), figures: openStripeFigures(one), busyUs: 0 }));
  const limits = layout.places.map(({ largestFileBytes }) => largestFileBytes ?? Infinity);
  const largest = roomInStripes(layout, limits);
  let end = 0;

  /** Waits for room as long as the writer takes bytes, whatever else has failed: they are of the take. @throws what they were refused with */
  function push(stripe: number, at: number, bytes: Uint8Array): void {
    const own = stripes[stripe];
    for (;;) {
      const errno = own?.figures.get('errno');
      if (!own || errno)
        throw Object.assign(new Error(`a stripe cannot be written: ${layout.places[stripe]?.driveFolder}`), {
          errno: errno ?? 5,
        });
      if (own.ring.push([fileKinds.bytes, at, 0, 0, 0], bytes, pushPatienceUs)) return;
    }
  }

  const file: GrowingFile = {
    path: order.filePath,
    identity: order.identity,
    end: () => end,
    write(position, bytes) {
      let done = 0;
      try {
        while (done < bytes.length) {
          const { stripe, at, bytes: inBlock } = placeInStripes(layout, position + done);
          const count = Math.min(inBlock, bytes.length - done);
          push(stripe, at, bytes.subarray(done, done + count));
          done += count;
        }
      } catch (error) {
        end = Math.max(end, position + done);
        return { done, error };
      }
      end = Math.max(end, position + done);
      return { done, error: null };
    },
    sync() {
      let busiestMs = 0;
      for (const one of stripes) {
        busiestMs = Math.max(busiestMs, (one.figures.get('busyUs') - one.busyUs) / 1000);
        one.busyUs = one.figures.get('busyUs');
        control.setFigure('driveLatencyUs', Math.max(control.figure('driveLatencyUs'), one.figures.get('worstUs')));
        one.figures.set('worstUs', 0);
      }
      times.add(busiestMs);
      const refused = stripes.find(({ figures }) => figures.get('errno'));
      if (refused) throw Object.assign(new Error('a stripe was refused'), { errno: refused.figures.get('errno') });
      const durable = wholeInStripes(
        layout,
        stripes.map(({ figures }) => figures.get('durable')),
      );
      return Math.min(end, durable);
    },
    finish() {
      // One that was refused bytes has to be told too: it still takes what is in its queue, and lets it go.
      for (const { ring, figures } of stripes)
        while (!figures.get('closed') && !ring.push([fileKinds.end, 0, 0, 0, 0], null, pushPatienceUs));
      while (stripes.some(({ figures }) => !figures.get('closed'))) sleepUs(pushPatienceUs / 10);
    },
    lies: () => (stripes.some(({ figures }) => figures.get('gone')) ? 'nothing' : 'same'),
    // Each writer keeps what its own open file holds.
    saveTo: () => {},
    close: () => {},
  };

  return {
    file: () => file,
    place: () => ({
      driveFolder: order.driveFolder,
      quotaBytes: null,
      largestFileBytes: Number.isFinite(largest) ? largest : null,
    }),
    reserve: () => ({
      held: () => stripes.every(({ figures }) => figures.get('reserveHeld') === 1),
      // Each writer gives up its own when it needs it.
      giveUp: () => false,
      trouble: null,
    }),
    left() {
      const each = stripes.map(({ figures }) => figures.get('leftBytes'));
      if (each.some((left) => left < 0)) return null;
      // A quota may be used up to its end: what closing needs is not taken off it.
      const toEnd = each.map((left, i) => (layout.places[i]?.quotaBytes === null ? left : left + order.reserveBytes));
      return roomInStripes(layout, toEnd);
    },
    leftElsewhere: () => 0,
    hasNext: () => false,
    turn() {
      throw new Error('A striped take has no parts.');
    },
  };
}
