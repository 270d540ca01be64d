import { dueUs } from '@mellow/core';
import { timeColumns } from '@mellow/model';
import { createControlMemory, openControl } from './control';
import { createLedgerRingMemory, openLedgerRing } from './ledgerRing';
import { nowUs } from './monotonic';
import { noteStation } from './stationTimes';
import { createTakeClockMemory, openTakeClock } from './takeClock';

const rate = { num: 24000, den: 1001 };

describe('the times at which a picture comes through the stations', () => {
  // The picker of frame 45 woke late, and the pause before frame 46 began after due 46.
  it.each([0, 1_000, 30_000, 500_000])('never go back with a pause that begins %d us after its due', (lateUs) => {
    const control = openControl(createControlMemory());
    const clock = openTakeClock(createTakeClockMemory(), control);
    const ledger = openLedgerRing(createLedgerRingMemory());
    control.setFigure('dueZeroUs', nowUs() - dueUs(rate, 46) - lateUs);
    ledger.open(45);
    for (const station of ['source', 'picked', 'captured', 'sized'] as const)
      noteStation(ledger, rate, 45, station, clock.now());
    clock.pause(dueUs(rate, 46));
    noteStation(ledger, rate, 45, 'encodeIn', clock.now());
    clock.resume(1e6);
    for (const station of ['encodeOut', 'written'] as const) noteStation(ledger, rate, 45, station, clock.now());
    const times = timeColumns.map((station) => ledger.get(45, station));
    expect(times).toEqual([...times].sort((a, b) => a - b));
    expect(times[0]).toBeGreaterThanOrEqual(Math.floor(dueUs(rate, 46) - dueUs(rate, 45)) + lateUs);
  });

  it('are what the clock tells where nothing was set back', () => {
    const ledger = openLedgerRing(createLedgerRingMemory());
    ledger.open(3);
    timeColumns.forEach((station, i) => noteStation(ledger, rate, 3, station, dueUs(rate, 3) + 1000 * i));
    expect(timeColumns.map((station) => ledger.get(3, station))).toEqual(timeColumns.map((_, i) => 1000 * i));
  });
});
