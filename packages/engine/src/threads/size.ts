import { encodeQueueFrames, errorText } from '@mellow/core';
import { openCameraPictures } from '../camera/cameraPictures';
import { createSizer } from '../size/sizer';
import { openControl } from '../shared/control';
import { openLedgerRing, rowStates } from '../shared/ledgerRing';
import { openRingReader, openRingWriter } from '../shared/messageRing';
import { sleepUs } from '../shared/monotonic';
import { openSlotPool } from '../shared/slotPool';
import { noteStation } from '../shared/stationTimes';
import { openTakeClock } from '../shared/takeClock';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';
import { forEachFrame } from './frameLoop';
import { queueKinds } from '../shared/queueKinds';
import { scriptedAt } from './script';

/** Scales and converts accepted frames from the source's kind of picture to the file's; a repeat keeps the last result. */
runThread(({ order, memory }, owns) => {
  if (!memory.sizedPool) throw new Error('Size was started without anything to scale.');
  const control = openControl(memory.control);
  const clock = openTakeClock(memory.clock, control);
  const ledger = openLedgerRing(memory.ledger);
  const sourcePool = openSlotPool(memory.sourcePool);
  const sizedPool = openSlotPool(memory.sizedPool);
  const queue = openRingReader(memory.sizeQueue);
  const encodeQueue = openRingWriter(memory.encodeQueue);
  const { recipe } = order;
  const sizer = owns(createSizer(memory.sourcePool.layout, memory.sizedPool.layout, recipe, memory.conversion), (one) =>
    one.free(),
  );
  const camera = owns(openCameraPictures(order, memory, control, memory.sizedPool.layout), (one) => one?.free());
  const faults = createFaults(order, 'size');
  let lastSized = -1;
  let lastFailed = false;
  tell({ type: 'ready', threadId: ownThreadId() });
  const ended = forEachFrame(queue, control, (n, slot, isRepeat) => {
    // A camera moves on where the game stands still.
    if (isRepeat && !camera) sourcePool.release(slot);
    else sizePicture(n, slot);
    handOn(n);
  });
  faults('end');
  if (ended) encodeQueue.push([queueKinds.end, 0, 0, 0, 0], null, 60e6);
  control.set('sizeDone', 1);
  tell({ type: 'done' });

  function sizePicture(n: number, slot: number): void {
    const sized = claim();
    try {
      if (sized < 0) throw new Error('stopped while waiting for a free picture');
      faults('frame', n);
      sizer.run(sourcePool.planes(slot), sizedPool.planes(sized));
      camera?.draw(n, sizedPool.planes(sized));
      if (scriptedAt(order.script, 'size-fails', n)) throw new Error('scripted failure of Size');
      sizedPool.publishHeld(sized);
      if (lastSized >= 0) sizedPool.release(lastSized);
      lastSized = sized;
      lastFailed = false;
    } catch (error) {
      lastFailed = true;
      // Nobody else will: a picture that is never handed on would be missing from then on.
      if (sized >= 0) sizedPool.release(sized);
      const why = errorText(error);
      tell({ type: 'log', level: 'error', text: `A frame could not be scaled: ${why}` });
    }
    sourcePool.release(slot);
    control.add('sized', 1);
  }

  function handOn(n: number): void {
    if (lastFailed || lastSized < 0) {
      ledger.lose(n, 'capture-miss', 'size-error', ['sized', 'encodeIn', 'encodeOut', 'written']);
      return;
    }
    if (order.clock === 'real') noteStation(ledger, recipe.rate, n, 'sized', clock.now());
    sizedPool.addHolder(lastSized);
    // Size blocks while the encoder's queue is full; the picker then refuses frames.
    while (encodeQueue.count() >= encodeQueueFrames && !control.get('failed')) encodeQueue.waitForReader(50_000);
    ledger.setState(n, rowStates.accepted);
    encodeQueue.push([queueKinds.picture, n, lastSized, 0, 0], null, 60e6);
  }

  function claim(): number {
    for (;;) {
      const slot = sizedPool.claim();
      if (slot >= 0) return slot;
      if (control.get('failed')) return -1;
      sleepUs(300);
    }
  }
});
