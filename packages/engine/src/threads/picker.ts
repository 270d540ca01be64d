import { setPriority } from 'node:os';
import {
  decideFate,
  dueUs,
  encodeQueueFrames,
  passesThrough,
  periodUs,
  repeatCause,
  sizeQueueFrames,
} from '@mellow/core';
import { openControl } from '../shared/control';
import { ledgerRingRows, openLedgerRing, rowStates } from '../shared/ledgerRing';
import { openRingWriter } from '../shared/messageRing';
import { nowUs, sleepUs } from '../shared/monotonic';
import { openSampleLog } from '../shared/sampleLog';
import { openSlotPool } from '../shared/slotPool';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { drivenSource, type DrivenSource } from './drivenSource';
import { plannedAt } from './plan';
import { queueKinds } from './queueKinds';
import { virtualPath } from './virtualPath';

/** Decides at each due what becomes of it, and hands accepted frames on by number. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const ledger = openLedgerRing(memory.ledger);
  const pool = openSlotPool(memory.sourcePool);
  const presents = openSampleLog(memory.presents);
  const captureTimes = openSampleLog(memory.stationTimes.capture);
  const lateness = openSampleLog(memory.lateness);
  const { rate } = order.recipe;
  const period = periodUs(rate);
  const plain = passesThrough(order.game, order.recipe);
  const sizeQueue = openRingWriter(memory.sizeQueue);
  const encodeQueue = openRingWriter(memory.encodeQueue);
  const next = plain ? encodeQueue : sizeQueue;
  const pendingRepeats: { n: number; serial: number; presentUs: number }[] = [];
  let lastFiled: { slot: number; frame: number; serial: number; presentUs: number } | null = null;
  let accepted = 0;

  tell({ type: 'ready', threadId: ownThreadId() });
  while (control.get('ready') === 0 && control.get('stop') === 0) control.wait('ready', 0, 1e6);
  const issued = order.clock === 'real' ? pickOnRealClock() : pickOnDrivenClock();
  next.push([queueKinds.end, 0, 0, 0, 0], null, 60e6);
  control.setFigure('endUs', dueUs(rate, issued));
  control.set('pickerDone', 1);
  tell({ type: 'done' });

  function pickOnRealClock(): number {
    const zeroUs = control.figure('dueZeroUs');
    let n = 0;
    let firstSerial = 0;
    raisePriority();
    for (; n < order.dueFrames && control.get('stop') === 0; n++) {
      ledger.open(n);
      const dueAt = zeroUs + dueUs(rate, n);
      while (control.get('stop') === 0 && nowUs() < dueAt) control.wait('stop', 0, Math.min(100_000, dueAt - nowUs()));
      if (control.get('stop') !== 0) break;
      const wokeAt = nowUs();
      lateness.add(wokeAt - dueAt);
      // What the game presented before the first due is no part of the take, but for the frame it can show.
      if (n === 0) firstSerial = Math.max(0, presents.count() - 1);
      resolveRepeats(wokeAt);
      const latest = control.get('latestSlot') - 1;
      const decision = decideFate({
        wokeAfterNextDue: wokeAt >= zeroUs + dueUs(rate, n + 1),
        bytesWaiting: control.figure('handedBytes') - control.figure('drivenBytes'),
        waitingLimitBytes: order.waitingLimitBytes,
        sinceLastWriteUs: wokeAt - control.figure('lastWriteUs'),
        room:
          encodeQueue.count() >= encodeQueueFrames
            ? 'encode-queue-full'
            : !plain && sizeQueue.count() >= sizeQueueFrames
              ? 'size-busy'
              : 'yes',
        grab: 'ok',
        newestFrame: latest < 0 ? null : pool.frameNumber(latest),
        lastFiledFrame: lastFiled?.frame ?? null,
      });
      ledger.set(n, 'picked', wokeAt - dueAt);
      if (decision.fate === 'new') {
        const slot = holdLatest();
        if (slot < 0) ledger.lose(n, 'capture-miss', 'no-source', []);
        else acceptNew(n, slot, dueAt, wokeAt);
      } else if (decision.fate === 'repeat') {
        acceptRepeat(n, dueAt);
      } else {
        ledger.lose(n, decision.fate, decision.cause, []);
      }
      control.set('dueIssued', n + 1);
    }
    if (n >= order.dueFrames) control.requestStop('length');
    const endAt = nowUs();
    resolveRepeats(endAt);
    const presentedNow = presents.count();
    finishRepeats(endAt);
    const presented = presentedNow - firstSerial;
    const untilEnd = lastFiled ? presentedNow - 1 - lastFiled.serial : presented;
    control.set('notReached', untilEnd);
    control.set('passedOver', presented - accepted - untilEnd);
    control.set('presented', presented);
    return n;
  }

  /** The newest ready slot, held; the game may free it in between, then a newer one is there. */
  function holdLatest(): number {
    for (let tries = 0; tries < 1000; tries++) {
      const latest = control.get('latestSlot') - 1;
      if (latest < 0) return -1;
      if (pool.hold(latest)) return latest;
    }
    return -1;
  }

  function acceptNew(n: number, slot: number, dueAt: number, wokeAt: number): void {
    const frame = pool.frameNumber(slot);
    const presentUs = pool.presentUs(slot);
    if (lastFiled) pool.release(lastFiled.slot);
    lastFiled = { slot, frame, serial: pool.presentSerial(slot), presentUs };
    accepted++;
    pool.addHolder(slot);
    ledger.setFate(n, 'new', 'none');
    ledger.set(n, 'source', Math.min(presentUs - dueAt, wokeAt - dueAt));
    ledger.set(n, 'sourceFrame', frame);
    const capturedAt = nowUs();
    ledger.set(n, 'captured', capturedAt - dueAt);
    captureTimes.add((capturedAt - wokeAt) / 1000);
    if (plain) ledger.set(n, 'sized', capturedAt - dueAt);
    ledger.setState(n, rowStates.accepted);
    next.push([queueKinds.picture, n, slot, 0, 0], null, 60e6);
  }

  function acceptRepeat(n: number, dueAt: number): void {
    if (!lastFiled) return;
    ledger.setFate(n, 'repeat', 'none');
    ledger.set(n, 'source', lastFiled.presentUs - dueAt);
    ledger.set(n, 'sourceFrame', lastFiled.frame);
    const capturedAt = nowUs();
    ledger.set(n, 'captured', capturedAt - dueAt);
    if (plain) ledger.set(n, 'sized', capturedAt - dueAt);
    pendingRepeats.push({ n, serial: lastFiled.serial, presentUs: lastFiled.presentUs });
    control.set('repeatsPending', pendingRepeats[0]?.n ?? 0);
    ledger.setState(n, rowStates.accepted);
    pool.addHolder(lastFiled.slot);
    next.push([queueKinds.repeat, n, lastFiled.slot, 0, 0], null, 60e6);
  }

  /** Gives waiting repeats their cause once the next frame was presented. */
  function resolveRepeats(atUs: number): void {
    while (pendingRepeats.length) {
      const repeat = pendingRepeats[0];
      if (!repeat || presents.count() <= repeat.serial + 1) return;
      giveCause(repeat, presents.at(repeat.serial + 1), atUs);
      pendingRepeats.shift();
    }
  }
  function finishRepeats(endUs: number): void {
    for (const repeat of pendingRepeats.splice(0)) giveCause(repeat, null, endUs);
  }
  function giveCause(repeat: { n: number; presentUs: number }, nextPresentUs: number | null, endUs: number): void {
    const dueAt = (order.clock === 'real' ? control.figure('dueZeroUs') : 0) + dueUs(rate, repeat.n);
    const cause = repeatCause({
      dueUs: dueAt,
      periodUs: period,
      previousPresentUs: repeat.presentUs,
      nextPresentUs,
      endUs,
      reportsOnlyChanges: false,
    });
    if (ledger.state(repeat.n) !== rowStates.lost) ledger.setFate(repeat.n, 'repeat', cause);
  }

  function pickOnDrivenClock(): number {
    const source = drivenSource(order.game, rate, order.script);
    const path = virtualPath(rate, !plain, order.script);
    const turn = predraw(source);
    let presentedAtLast = 0;
    // Throughput counts from here: scenes and pictures are ready.
    control.setFigure('dueZeroUs', nowUs());
    let n = 0;
    for (; n < order.dueFrames && control.get('stop') === 0; n++) {
      // Real time never decides here: wait until everybody has room.
      while (
        control.get('stop') === 0 &&
        (encodeQueue.count() >= encodeQueueFrames ||
          (!plain && sizeQueue.count() >= sizeQueueFrames) ||
          n - control.get('settledRows') > ledgerRingRows - 64)
      ) {
        // Not woken by each frame that leaves: on few cores every waking takes time from the encoder.
        sleepUs(4000);
      }
      if (control.get('stop') !== 0) break;
      ledger.open(n);
      const due = dueUs(rate, n);
      const planned = order.plan ? plannedAt(order.plan, n) : null;
      const newest = planned ? planned.slot : source.newestAt(n);
      const decision =
        planned?.decision ??
        decideFate({
          ...path.observe(n),
          waitingLimitBytes: order.waitingLimitBytes,
          newestFrame: newest,
          lastFiledFrame: lastFiled?.frame ?? null,
        });
      if (decision.fate !== 'new' && decision.fate !== 'repeat') {
        ledger.lose(n, decision.fate, decision.cause, []);
      } else {
        const times = path.accept(n);
        ledger.set(n, 'picked', times.pickedUs - due);
        ledger.set(n, 'captured', times.capturedUs - due);
        ledger.set(n, 'sized', times.sizedUs - due);
        ledger.set(n, 'encodeIn', times.encodeInUs - due);
        ledger.set(n, 'encodeOut', times.encodeOutUs - due);
        ledger.set(n, 'written', times.writtenUs - due);
        if (decision.fate === 'new' && newest !== null) {
          presentedAtLast = source.presentedThrough(newest);
          acceptDriven(n, newest, source.presentUs(newest), due, () =>
            turn((into) => source.draw(newest, pool.picture(into))),
          );
        } else if (lastFiled) {
          const following = source.nextAfter(lastFiled.frame);
          const cause =
            planned?.cause ??
            repeatCause({
              dueUs: due,
              periodUs: period,
              previousPresentUs: lastFiled.presentUs,
              nextPresentUs: source.presentUs(following),
              endUs: dueUs(rate, order.dueFrames),
              reportsOnlyChanges: false,
            });
          ledger.setFate(n, 'repeat', cause);
          ledger.set(n, 'source', lastFiled.presentUs - due);
          ledger.set(n, 'sourceFrame', lastFiled.frame);
          ledger.setState(n, rowStates.accepted);
          pool.addHolder(lastFiled.slot);
          next.push([queueKinds.repeat, n, lastFiled.slot, 0, 0], null, 60e6);
        }
      }
      control.set('dueIssued', n + 1);
    }
    if (n >= order.dueFrames) control.requestStop('length');
    const newestAtEnd = n > 0 ? source.newestAt(n - 1) : null;
    const presented = newestAtEnd === null ? 0 : source.presentedThrough(newestAtEnd);
    const untilEnd = presented - presentedAtLast;
    control.set('presented', presented);
    control.set('notReached', untilEnd);
    control.set('passedOver', presented - accepted - untilEnd);
    return n;
  }

  function acceptDriven(n: number, frame: number, presentUs: number, due: number, draw: () => number): void {
    const slot = draw();
    if (lastFiled && order.predrawnFrames === 0) pool.release(lastFiled.slot);
    lastFiled = { slot, frame, serial: 0, presentUs };
    accepted++;
    if (order.predrawnFrames === 0) pool.publishHeld(slot);
    pool.addHolder(slot);
    ledger.setFate(n, 'new', 'none');
    ledger.set(n, 'source', presentUs - due);
    ledger.set(n, 'sourceFrame', frame);
    ledger.setState(n, rowStates.accepted);
    next.push([queueKinds.picture, n, slot, 0, 0], null, 60e6);
  }

  /** Draws into free slots; with pre-drawn pictures, hands the same ones out in turn. */
  function predraw(source: DrivenSource): (draw: (slot: number) => void) => number {
    if (order.predrawnFrames === 0) {
      return (draw) => {
        for (;;) {
          const slot = pool.claim();
          if (slot >= 0) {
            draw(slot);
            return slot;
          }
          if (control.get('stop') !== 0) throw new Error('stopped while waiting for a free picture');
          sleepUs(300);
        }
      };
    }
    for (let i = 0; i < order.predrawnFrames; i++) {
      const slot = pool.claim();
      source.draw(240 + i * 2, pool.picture(slot));
      pool.publishHeld(slot);
    }
    let turn = 0;
    return () => turn++ % order.predrawnFrames;
  }
});

/** The picker needs little, but on time; where the system allows it, it goes before other threads. */
function raisePriority(): void {
  const id = ownThreadId();
  if (id === null) return;
  try {
    setPriority(id, -10);
  } catch {
    tell({ type: 'log', level: 'info', text: 'The system does not allow the capture thread a higher priority.' });
  }
}
