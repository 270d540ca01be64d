import { dueUs, periodUs, errorText } from '@mellow/core';
import { isGrabbed, type GrabbedSource } from '@mellow/model';
import { grabInputsFor } from '../screen/grabTable';
import { openFirstGrab, type ScreenGrab } from '../screen/libraryGrab';
import { endPresenting, presentFrame } from '../sources/presentFrame';
import { openControl } from '../shared/control';
import { nowUs, sleepUs } from '../shared/monotonic';
import { obeyCommands } from '../shared/obeyCommands';
import { raisePriority } from '../shared/raisePriority';
import { openSampleLog } from '../shared/sampleLog';
import { openSlotPool } from '../shared/slotPool';
import { windowStates } from '../shared/windowStates';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createPictureStretch } from '../screen/pictureStretch';

/** A grab that failed is opened anew so often at most. */
const tryAgainUs = 250_000;
/** So much before its due a grab has to be done, beside the time it takes. */
const spareUs = 1500;

/**
 * Grabs the screen a little before each due, so that the newest picture is there when the picker looks. A picture that is the
 * same, byte by byte, is none: what is presented here are changes.
 */
runThread(({ order, memory }, owns) => {
  const { source } = order;
  if (!isGrabbed(source)) throw new Error('There is nothing to grab.');
  const control = openControl(memory.control);
  const pool = openSlotPool(memory.sourcePool);
  const presents = openSampleLog(memory.presents);
  const changeTimes = openSampleLog(memory.gameTimes);
  const grabTimes = openSampleLog(memory.stationTimes.capture);
  const { rate } = order.recipe;
  let grab: ScreenGrab | null = null;
  let stretch: ReturnType<typeof createPictureStretch> | null = null;
  let grabbedId: number | null = null;
  let usualUs = 4000;
  let lastChangeUs = 0;
  let told = '';
  let openedUs = 0;
  owns(null, closeAll);
  const refused = reopen();
  if (refused !== null && control.get('windowState') !== windowStates.closed) throw new Error(refused);
  raisePriority('grabbing');
  tell({ type: 'ready', threadId: ownThreadId() });
  obeyCommands(control, grabOn);
  tell({ type: 'done' });

  function closeAll(): void {
    grab?.close();
    grab = null;
    stretch?.free();
    stretch = null;
  }

  function grabOn(goesOn: () => boolean): void {
    const zeroUs = control.figure('dueZeroUs');
    const period = periodUs(rate);
    let n = Math.ceil((nowUs() - zeroUs) / period);
    while (goesOn() && !control.get('failed')) {
      const beginUs =
        zeroUs + dueUs(rate, Math.max(0, n)) + (n < 0 ? n * period : 0) - Math.min(0.8 * period, usualUs + spareUs);
      sleepUs(beginUs - nowUs());
      if (!goesOn()) break;
      takeOne();
      n = Math.max(n + 1, Math.ceil((nowUs() + usualUs - zeroUs) / period));
    }
    endPresenting({ pool, presents, control });
  }

  function takeOne(): void {
    const startUs = nowUs();
    const data = pictureNow();
    if (!data) return control.set('grabFailed', 1);
    const latest = control.get('latestSlot') - 1;
    if (latest < 0 || !data.equals(pool.planes(latest)[0]!)) publish(data, startUs);
    control.setFigure('lastGrabUs', startUs);
    control.set('grabFailed', 0);
    const tookUs = nowUs() - startUs;
    usualUs += 0.1 * (tookUs - usualUs);
    grabTimes.add(tookUs / 1000);
  }

  function publish(data: Buffer, startUs: number): void {
    const slot = pool.claim();
    // All are held further down the path: the picker refuses this due, or shows the picture before.
    if (slot < 0) return;
    pool.planes(slot)[0]!.set(data);
    presentFrame({ pool, presents, control }, slot, presents.count(), startUs);
    if (lastChangeUs) changeTimes.add((startUs - lastChangeUs) / 1000);
    lastChangeUs = startUs;
  }

  /** The picture in the size that the take began with; null while it cannot be had. */
  function pictureNow(): Buffer | null {
    if (source.kind === 'window' && !follow(source)) return null;
    const data = grab?.next() ?? null;
    if (!data) {
      if (nowUs() - openedUs > tryAgainUs) say(reopen() ?? 'A picture of the screen could not be had.');
      return null;
    }
    return stretch ? stretch.run(data) : data;
  }

  /** @returns whether the window is shown; its grab fits it then */
  function follow(window: GrabbedSource): boolean {
    if (control.get('windowState') !== windowStates.shown) return false;
    const [widthPx, heightPx] = [control.get('windowWidth'), control.get('windowHeight')];
    if (grab && grab.widthPx === widthPx && grab.heightPx === heightPx && grabbedId === control.figure('windowId'))
      return true;
    stretch?.free();
    stretch = null;
    reopen({ ...window, widthPx, heightPx });
    if (widthPx !== window.widthPx || heightPx !== window.heightPx)
      stretch = createPictureStretch({ widthPx, heightPx }, window);
    return grab !== null;
  }

  /** @returns why it could not be opened; null where it was */
  function reopen(as: GrabbedSource = source as GrabbedSource): string | null {
    grab?.close();
    grab = null;
    openedUs = nowUs();
    try {
      grabbedId = as.kind === 'window' ? control.figure('windowId') || as.windowId : null;
      const ways = grabInputsFor(process.platform, as, grabbedId);
      if (typeof ways === 'string') return ways;
      grab = openFirstGrab(ways, as);
      return null;
    } catch (error) {
      return errorText(error);
    }
  }

  function say(text: string): void {
    if (text !== told) tell({ type: 'log', level: 'warn', text });
    told = text;
  }
});
