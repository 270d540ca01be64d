import {
  createPicture,
  frameWork,
  isStalled,
  practiceScene,
  slotsPerSecond,
  slotTimeUs,
  type Picture420,
} from '@mellow/practice';
import { endPresenting, presentFrame } from '../sources/presentFrame';
import { openControl } from '../shared/control';
import { nowUs, sleepUs } from '../shared/monotonic';
import { obeyCommands } from '../shared/obeyCommands';
import { openSampleLog } from '../shared/sampleLog';
import { openSlotPool } from '../shared/slotPool';
import { createSteadyWork } from '../shared/steadyWork';
import { ownThreadId, runThread, tell } from '../shared/threadPort';
import { createFaults } from './faults';

/** The practice game on the real clock: draws as fast as its cap allows and measures its own frame times. */
runThread(({ order, memory }) => {
  const control = openControl(memory.control);
  const pool = openSlotPool(memory.sourcePool);
  const presents = openSampleLog(memory.presents);
  const frameTimes = openSampleLog(memory.gameTimes);
  const { game } = order;
  const scene = practiceScene(game);
  const faults = createFaults(order, 'game');
  const work = createSteadyWork();
  const warm: Picture420 = createPicture(game.widthPx, game.heightPx);
  for (let i = 0; i < 30; i++) scene.draw(warm, i);
  tell({ type: 'ready', threadId: ownThreadId() });
  obeyCommands(control, playPassage);
  tell({ type: 'done' });

  function playPassage(goesOn: () => boolean): void {
    const rate = slotsPerSecond(game);
    const startUs = control.figure('gameStartUs');
    const firstSlot = control.figure('gameStartSlot');
    let slot = firstSlot;
    let lastPresentUs = 0;
    while (goesOn()) {
      const elapsedUs = nowUs() - startUs;
      // A late game skips slots: frame number and game time stay tied to the clock.
      slot = Math.max(slot, firstSlot + Math.floor((elapsedUs * rate) / 1e6));
      while (isStalled(game, slotTimeUs(game, slot))) slot++;
      const dueUs = startUs + ((slot - firstSlot) * 1e6) / rate;
      sleepUs(dueUs - nowUs());
      if (!goesOn()) break;
      const into = claimWaiting(goesOn);
      if (into < 0) break;
      faults('frame', presents.count());
      const { mainUs, helperUs } = frameWork(game, slotTimeUs(game, slot));
      startHelpers(helperUs);
      scene.draw(pool.picture(into), slot);
      work(mainUs);
      awaitHelpers();
      const presentUs = nowUs();
      presentFrame({ pool, presents, control }, into, slot, presentUs);
      if (lastPresentUs) frameTimes.add((presentUs - lastPresentUs) / 1000);
      lastPresentUs = presentUs;
      slot++;
    }
    endPresenting({ pool, presents, control });
  }

  function startHelpers(workUs: number): void {
    if (!game.helpers) return;
    control.setFigure('helperWorkUs', workUs);
    control.add('helperFrames', 1);
    control.wake('helperFrames');
  }

  /** A frame is done when its helpers are. */
  function awaitHelpers(): void {
    const due = control.get('helperFrames') * game.helpers;
    for (;;) {
      const done = control.get('helpersDone');
      if (done >= due || control.get('failed')) return;
      control.wait('helpersDone', done, 100_000);
    }
  }

  function claimWaiting(goesOn: () => boolean): number {
    for (;;) {
      const slot = pool.claim();
      if (slot >= 0 || !goesOn()) return slot;
      sleepUs(500);
    }
  }
});
