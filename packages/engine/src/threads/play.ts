import { periodUs } from '@mellow/core';
import { openSampleReader } from '../reading/sampleReader';
import { endPresenting, presentFrame } from '../sources/presentFrame';
import { openControl } from '../shared/control';
import { nowUs, sleepUs } from '../shared/monotonic';
import { obeyCommands } from '../shared/obeyCommands';
import { raisePriority } from '../shared/raisePriority';
import { openSampleLog } from '../shared/sampleLog';
import { openSlotPool } from '../shared/slotPool';
import { sampleAhead } from '../shared/takeMemory';
import { ownThreadId, runThread, tell } from '../shared/threadPort';

/** A picture that is later than this is left out, so that the sample keeps to the clock. */
const leftOutAfterPeriods = 2;
/** So many in a row. */
const mostLeftOut = 4;

interface Decoded {
  slot: number;
  serial: number;
  dueUs: number;
}

/**
 * Plays a sample in a game's place. Each picture is presented half of its period before its time, so that it is there when a due
 * of the same rate asks for it, and trials get the same pictures however the threads wake.
 */
runThread(({ order, memory }, owns) => {
  const { source } = order;
  if (source.kind !== 'sample') throw new Error('There is no sample to play.');
  const control = openControl(memory.control);
  const pool = openSlotPool(memory.sourcePool);
  const presents = openSampleLog(memory.presents);
  const frameTimes = openSampleLog(memory.gameTimes);
  const period = periodUs(source.rate);
  const reader = owns(openSampleReader(source, memory.sourcePool.layout), (one) => one.close());
  raisePriority('grabbing');
  tell({ type: 'ready', threadId: ownThreadId() });
  obeyCommands(control, play);
  tell({ type: 'done' });

  function play(goesOn: () => boolean): void {
    const zeroUs = control.figure('dueZeroUs') - period / 2;
    const waiting: Decoded[] = [];
    let serial = 0;
    let lastUs = 0;
    let shown = 0;
    while (goesOn() && !control.get('failed')) {
      const next = waiting[0];
      if (next && nowUs() >= next.dueUs) {
        waiting.shift();
        present(next);
      } else if (waiting.length < sampleAhead) {
        decodeOne();
      } else if (next) {
        sleepUs(next.dueUs - nowUs());
      }
    }
    for (const { slot } of waiting) {
      pool.publish(slot, 0, 0, 0);
      pool.discard(slot);
    }
    endPresenting({ pool, presents, control });

    function decodeOne(): void {
      // A slot is free when what is further down the path lets go of one.
      const slot = pool.claim();
      if (slot < 0) return sleepUs(500);
      let dueUs = zeroUs + reader.next();
      let number = serial++;
      // One that is left out has to be decoded as well: where even that is too slow, a late picture is more than none.
      for (let left = 0; left < mostLeftOut && nowUs() - dueUs > leftOutAfterPeriods * period && goesOn(); left++) {
        dueUs = zeroUs + reader.next();
        number = serial++;
      }
      reader.read(pool.planes(slot));
      countMissed();
      waiting.push({ slot, serial: number, dueUs });
    }

    /** Pictures that should have been shown by now: left out, or still to come. The take may be closed before this thread has ended. */
    function countMissed(): void {
      const missed = Math.floor((nowUs() - zeroUs) / period) - shown;
      control.set('sampleLeftOut', missed > leftOutAfterPeriods ? missed : 0);
    }

    function present({ slot, serial: number }: Decoded): void {
      const presentUs = nowUs();
      shown++;
      presentFrame({ pool, presents, control }, slot, number, presentUs);
      countMissed();
      if (lastUs) frameTimes.add((presentUs - lastUs) / 1000);
      lastUs = presentUs;
    }
  }
});
