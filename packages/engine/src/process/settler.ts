import { concatColumns, dueUs } from '@mellow/core';
import { fates, type FrameRate, type SecondRow } from '@mellow/model';
import { copyRows, type LedgerStreamWriter } from '../ledger/streamWriter';
import type { Control } from '../shared/control';
import { ledgerRingRows, rowStates, type LedgerRing } from '../shared/ledgerRing';
import type { createLiveCounter } from './liveCounter';
import type { LoadMeter } from './loadMeter';

export interface Settler {
  /** Moves settled rows, in order, from the ring into the ledger; a second that is over is written with its loads. */
  settle(everything: boolean): void;
  lastSecond(): SecondRow | null;
}

export interface SettlerOptions {
  rate: FrameRate;
  control: Control;
  ledger: LedgerRing;
  writer: LedgerStreamWriter;
  meter: LoadMeter;
  counter: ReturnType<typeof createLiveCounter>;
  /** Time of the take so far; pauses are none of it. */
  elapsedUs: () => number;
}

/** So near to its end the ring hands rows on whatever their state. */
const ringMargin = 1024;

export function createSettler(options: SettlerOptions): Settler {
  const { rate, control, ledger, writer, meter, counter } = options;
  const repeat = fates.indexOf('repeat');
  let settled = 0;
  let second = 0;
  let lastSecond: SecondRow | null = null;
  let nextSecondUs = 1e6;
  let waiting: ReturnType<typeof copyRows>[] = [];

  /** A row is settled when it is lost, or its bytes are with the drive and a repeat knows its cause. */
  function isSettled(n: number): boolean {
    const state = ledger.state(n);
    if (state === rowStates.lost) return true;
    if (control.get('dueIssued') - n > ledgerRingRows - ringMargin) return true;
    if (state !== rowStates.written) return false;
    return ledger.get(n, 'fate') !== repeat || ledger.get(n, 'cause') !== 0;
  }

  return {
    settle(everything) {
      const from = settled;
      const issued = control.get('dueIssued');
      while (settled < issued && (everything || isSettled(settled))) {
        const at = Math.floor(dueUs(rate, settled) / 1e6);
        counter.count(ledger.get(settled, 'fate'), ledger.get(settled, 'cause'), at);
        settled++;
      }
      if (settled > from) waiting.push(copyRows((a, b, c, d) => ledger.copy(a, b, c, d), rate, from, settled));
      control.set('settledRows', settled);
      if (options.elapsedUs() < nextSecondUs && !everything) return;
      // What is left after the last whole second is too short to say something of loads.
      const tooShort = everything && second > 0 && nextSecondUs - options.elapsedUs() > 500_000;
      if (!tooShort) lastSecond = meter.read(second++);
      nextSecondUs += 1e6;
      writer.append(concatColumns(waiting), tooShort ? null : lastSecond);
      waiting = [];
    },
    lastSecond: () => lastSecond,
  };
}
