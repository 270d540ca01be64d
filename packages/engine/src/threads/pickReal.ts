import { decideFate, dueUs, encodeQueueFrames, periodUs, sizeQueueFrames, type FateDecision } from '@mellow/core';
import { openFrameFeed } from '../sources/frameFeed';
import { nowUs } from '../shared/monotonic';
import { pauseLengthUs } from '../shared/pauseLength';
import { openSampleLog } from '../shared/sampleLog';
import { tell } from '../shared/threadPort';
import { raisePriority } from '../shared/raisePriority';
import type { Picking } from './picking';
import { createRepeatCauses } from './repeatCauses';

/** A grab begins within a period before its due; one that is older than this is of a due before. */
const oldestGrabPeriods = 1.5;
/** A picker that wakes so late was not busy: nothing of the PC, or of the recorder, ran. */
const asleepUs = 10e6;

/** Picks a frame at each due of the real clock. @returns how many were due */
export function pickOnRealClock(picking: Picking): number {
  const { order, memory, control, clock, ledger, sizeQueue, encodeQueue, plain } = picking;
  const { rate } = order.recipe;
  const feed = openFrameFeed(picking.pool, openSampleLog(memory.presents), control);
  const captureTimes = openSampleLog(memory.stationTimes.capture);
  const lateness = openSampleLog(memory.lateness);
  const causes = createRepeatCauses(periodUs(rate), picking.source.reportsOnlyChanges, (n, cause) =>
    ledger.setRepeatCause(n, cause),
  );
  const nextPresent = (serial: number): number | null =>
    feed.presented() > serial + 1 ? feed.presentUs(serial + 1) : null;
  const dueAtUs = (due: number): number => clock.at(dueUs(rate, due));
  let firstSerial = 0;
  /** What the source presented in pauses, and in one that the take ended in. */
  let leftOut = 0;
  let leftOutAtEnd = 0;
  let n = 0;
  raisePriority('capture');
  for (; n < order.dueFrames && control.get('stop') === 0; n++) {
    if (control.get('pauseWanted') && n > 0 && !clock.full() && !pauseBefore(n)) break;
    ledger.open(n);
    if (!waitUntil(dueAtUs(n))) break;
    leaveSleepOut(n);
    const dueAt = dueAtUs(n);
    if (!waitUntil(dueAt)) break;
    const wokeAt = nowUs();
    lateness.add(wokeAt - dueAt);
    // What the source presented before the first due is no part of the take, but for the frame it can show.
    if (n === 0) firstSerial = Math.max(0, feed.presented() - 1);
    causes.resolve(wokeAt, nextPresent);
    const decision = decide(n, wokeAt);
    ledger.set(n, 'picked', wokeAt - dueAt);
    if (decision.fate === 'new') takeNew(n, dueAt, wokeAt);
    else if (decision.fate === 'repeat') takeRepeat(n, dueAt);
    else ledger.lose(n, decision.fate, decision.cause, []);
    control.set('dueIssued', n + 1);
  }
  if (n >= order.dueFrames) control.requestStop('length');
  countSource();
  return n;

  /** Nothing is due until it goes on. @returns false when the take was stopped meanwhile */
  function pauseBefore(due: number): boolean {
    const before = feed.presented();
    const wouldBeAtUs = dueAtUs(due);
    clock.pause(dueUs(rate, due));
    while (control.get('pauseWanted') && control.get('stop') === 0) {
      control.wait('pauseWanted', 1, 100_000);
      causes.resolve(nowUs(), nextPresent);
    }
    const since = feed.presented() - before;
    if (control.get('stop')) {
      leftOut += since;
      leftOutAtEnd = since;
      return false;
    }
    // The last of them may be shown at the next due.
    leftOut += Math.max(0, since - 1);
    clock.resume(pauseLengthUs(rate, due, wouldBeAtUs, clock.pausedSinceUs() ?? wouldBeAtUs, nowUs()));
    return true;
  }

  /** Nobody loses an hour of frames because the PC slept for an hour: what comes after it follows at once. */
  function leaveSleepOut(due: number): void {
    const sinceUs = dueAtUs(due);
    const sleptUs = nowUs() - sinceUs;
    if (sleptUs < asleepUs || due === 0 || clock.full()) return;
    clock.pause(dueUs(rate, due));
    clock.resume(pauseLengthUs(rate, due, sinceUs, sinceUs, nowUs()), 'asleep');
    const seconds = (sleptUs / 1e6).toFixed(0);
    tell({ type: 'log', level: 'warn', text: `Nothing ran for ${seconds} s; the take goes on without that time.` });
  }

  /** @returns false when the take was stopped meanwhile */
  function waitUntil(timeUs: number): boolean {
    while (control.get('stop') === 0 && nowUs() < timeUs) control.wait('stop', 0, Math.min(100_000, timeUs - nowUs()));
    return control.get('stop') === 0;
  }

  function decide(due: number, wokeAt: number): FateDecision {
    const sizeBusy = !plain && sizeQueue.count() >= sizeQueueFrames;
    return decideFate({
      wokeAfterNextDue: wokeAt >= dueAtUs(due + 1),
      bytesWaiting: control.figure('handedBytes') - control.figure('drivenBytes'),
      waitingLimitBytes: order.waitingLimitBytes,
      sinceLastWriteUs: wokeAt - control.figure('lastWriteUs'),
      unwritten: picking.unwritten(wokeAt),
      room: encodeQueue.count() >= encodeQueueFrames ? 'encode-queue-full' : sizeBusy ? 'size-busy' : 'yes',
      grab: picking.source.grabbed ? grabbed(due) : 'ok',
      newestFrame: feed.newestFrame(),
      lastFiledFrame: picking.lastFiled()?.frame ?? null,
    });
  }

  /** A picture of the screen has to be of the period before its due, or a little older. */
  function grabbed(due: number): 'ok' | 'failed' | 'unfinished' {
    if (control.get('grabFailed')) return 'failed';
    const dueAt = dueAtUs(due);
    return control.figure('lastGrabUs') < dueAt - oldestGrabPeriods * periodUs(rate) ? 'unfinished' : 'ok';
  }

  function takeNew(due: number, dueAt: number, wokeAt: number): void {
    const held = feed.hold();
    if (!held) return ledger.lose(due, 'capture-miss', 'no-source', []);
    const capturedAt = nowUs();
    noteCaptured(due, capturedAt - dueAt);
    // What is grabbed has its time from the thread that grabs.
    if (!picking.source.grabbed) captureTimes.add((capturedAt - wokeAt) / 1000);
    picking.handOnNew(due, held, dueAt, Math.min(held.presentUs, wokeAt));
  }

  function takeRepeat(due: number, dueAt: number): void {
    const last = picking.lastFiled();
    if (!last) return;
    ledger.setFate(due, 'repeat', 'none');
    noteCaptured(due, nowUs() - dueAt);
    causes.add({ n: due, dueUs: dueAt, presentUs: last.presentUs, serial: last.serial });
    picking.handOnRepeat(due, dueAt);
  }

  function noteCaptured(due: number, afterDueUs: number): void {
    ledger.set(due, 'captured', afterDueUs);
    if (plain) ledger.set(due, 'sized', afterDueUs);
  }

  function countSource(): void {
    const endAt = nowUs();
    causes.resolve(endAt, nextPresent);
    const presentedNow = feed.presented();
    causes.finish(endAt);
    const presented = presentedNow - firstSerial - leftOut;
    const last = picking.lastFiled();
    const untilEnd = last ? presentedNow - 1 - last.serial - leftOutAtEnd : presented;
    control.set('notReached', untilEnd);
    control.set('passedOver', presented - picking.accepted() - untilEnd);
    control.set('presented', presented);
  }
}
