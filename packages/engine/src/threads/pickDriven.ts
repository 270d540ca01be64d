import { decideFate, dueUs, encodeQueueFrames, periodUs, repeatCause, sizeQueueFrames } from '@mellow/core';
import type { Cause } from '@mellow/model';
import { drivenPractice, type DrivenSource } from '../sources/drivenPractice';
import { nowUs, sleepUs } from '../shared/monotonic';
import { ledgerRingRows } from '../shared/ledgerRing';
import type { Picking } from './picking';
import { plannedAt } from './plan';
import { virtualPath } from './virtualPath';

/** So long eight pictures, all that wait at the encoder, last at 500 frames a second. */
const longestRestUs = 16_000;

/** Picks a frame at each due of the virtual clock, as soon as everybody has room. @returns how many were due */
export function pickOnDrivenClock(picking: Picking): number {
  const { order, control, ledger, plain } = picking;
  const { rate } = order.recipe;
  const source = drivenPractice(order.game, rate, order.script);
  const path = virtualPath(rate, !plain, order.script);
  const slots = openSlots(picking, source);
  let presentedAtLast = 0;
  let restUs = 4000;
  // Throughput counts from here: scenes and pictures are ready.
  control.setFigure('dueZeroUs', nowUs());
  let n = 0;
  for (; n < order.dueFrames && waitForRoom(n); n++) {
    ledger.open(n);
    const due = dueUs(rate, n);
    const planned = order.plan ? plannedAt(order.plan, n) : null;
    const newest = planned ? planned.slot : source.newestAt(n);
    const decision = planned?.decision ?? decideFate(observe(n, newest));
    if (decision.fate === 'new' && newest !== null) takeNew(n, newest, due);
    else if (decision.fate === 'repeat') takeRepeat(n, due, planned?.cause ?? null);
    else if (decision.fate === 'new') ledger.lose(n, 'capture-miss', 'no-source', []);
    else ledger.lose(n, decision.fate, decision.cause, []);
    control.set('dueIssued', n + 1);
  }
  if (n >= order.dueFrames) control.requestStop('length');
  countSource();
  return n;

  /** Real time never decides here. @returns false when the take was stopped meanwhile */
  function waitForRoom(due: number): boolean {
    const next = plain ? picking.encodeQueue : picking.sizeQueue;
    while (control.get('stop') === 0) {
      const encodeBusy = picking.encodeQueue.count() >= encodeQueueFrames;
      const sizeBusy = !plain && picking.sizeQueue.count() >= sizeQueueFrames;
      if (!encodeBusy && !sizeBusy && due - control.get('settledRows') <= ledgerRingRows - 64) return true;
      // Not woken by each frame that leaves: on few cores every waking takes time from the encoder. As long as the queue
      // lasts, and no longer.
      sleepUs(restUs);
      restUs = next.count() === 0 ? Math.max(500, restUs / 2) : Math.min(longestRestUs, restUs * 1.1);
    }
    return false;
  }

  function observe(due: number, newestFrame: number | null) {
    return {
      ...path.observe(due),
      waitingLimitBytes: order.waitingLimitBytes,
      newestFrame,
      lastFiledFrame: picking.lastFiled()?.frame ?? null,
    };
  }

  function noteTimes(due: number, dueAt: number): void {
    const times = path.accept(due);
    ledger.set(due, 'picked', times.pickedUs - dueAt);
    ledger.set(due, 'captured', times.capturedUs - dueAt);
    ledger.set(due, 'sized', times.sizedUs - dueAt);
    ledger.set(due, 'encodeIn', times.encodeInUs - dueAt);
    ledger.set(due, 'encodeOut', times.encodeOutUs - dueAt);
    ledger.set(due, 'written', times.writtenUs - dueAt);
  }

  function takeNew(due: number, frame: number, dueAt: number): void {
    noteTimes(due, dueAt);
    presentedAtLast = source.presentedThrough(frame);
    const presentUs = source.presentUs(frame);
    const slot = slots.drawn(frame);
    picking.handOnNew(due, { slot, frame, serial: 0, presentUs }, dueAt, presentUs, slots.shared);
  }

  function takeRepeat(due: number, dueAt: number, plannedCause: Cause | null): void {
    const last = picking.lastFiled();
    if (!last) return;
    noteTimes(due, dueAt);
    const cause =
      plannedCause ??
      repeatCause({
        dueUs: dueAt,
        periodUs: periodUs(rate),
        previousPresentUs: last.presentUs,
        nextPresentUs: source.presentUs(source.nextAfter(last.frame)),
        endUs: dueUs(rate, order.dueFrames),
        reportsOnlyChanges: picking.source.reportsOnlyChanges,
      });
    ledger.setFate(due, 'repeat', cause);
    picking.handOnRepeat(due, dueAt);
  }

  function countSource(): void {
    const newestAtEnd = n > 0 ? source.newestAt(n - 1) : null;
    const presented = newestAtEnd === null ? 0 : source.presentedThrough(newestAtEnd);
    const untilEnd = presented - presentedAtLast;
    control.set('presented', presented);
    control.set('notReached', untilEnd);
    control.set('passedOver', presented - picking.accepted() - untilEnd);
  }
}

/** Where pictures are drawn: into free slots, or, for benchmarks, a few drawn before and handed round. */
function openSlots({ order, control, pool }: Picking, source: DrivenSource) {
  const { predrawnFrames } = order;
  const claim = (): number => {
    for (;;) {
      const slot = pool.claim();
      if (slot >= 0) return slot;
      if (control.get('stop') !== 0) throw new Error('stopped while waiting for a free picture');
      sleepUs(300);
    }
  };
  const draw = (frame: number): number => {
    const slot = claim();
    source.draw(frame, pool.picture(slot));
    pool.publishHeld(slot);
    return slot;
  };
  for (let i = 0; i < predrawnFrames; i++) draw(240 + i * 2);
  let turn = 0;
  return {
    shared: predrawnFrames > 0,
    drawn: (frame: number): number => (predrawnFrames > 0 ? turn++ % predrawnFrames : draw(frame)),
  };
}
