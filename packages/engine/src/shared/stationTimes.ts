import { dueUs, NEVER } from '@mellow/core';
import { timeColumns, type FrameRate, type TimeColumn } from '@mellow/model';
import type { LedgerRing } from './ledgerRing';

/**
 * Notes the file's time at which frame n came through a station. A pause may begin after the due it cuts before, where its picker
 * woke late: the file's time is set back to the cut then, and what a picture came through before is kept as its earliest.
 */
export function noteStation(ledger: LedgerRing, rate: FrameRate, n: number, station: TimeColumn, fileUs: number): void {
  let afterDueUs = fileUs - dueUs(rate, n);
  for (const ahead of timeColumns) {
    if (ahead === station) break;
    const came = ledger.get(n, ahead);
    if (came !== NEVER) afterDueUs = Math.max(afterDueUs, came);
  }
  ledger.set(n, station, afterDueUs);
}
