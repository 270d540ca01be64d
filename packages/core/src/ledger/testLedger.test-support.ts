import { causeCode, fateCode, type Cause, type Fate, type FrameRate } from '@mellow/model';
import { dueUs } from '../units';
import { createColumns, type LedgerColumns } from './columns';

/** A small ledger for tests: one word a row, everything filed has plausible times. */
export function testLedger(rate: FrameRate, rows: readonly (Fate | [Fate, Cause])[]): LedgerColumns {
  const columns = createColumns(rows.length);
  let frame = 0;
  rows.forEach((row, n) => {
    const [fate, cause] = typeof row === 'string' ? [row, 'none' as const] : row;
    columns.dueUs[n] = dueUs(rate, n);
    columns.fate[n] = fateCode(fate);
    columns.cause[n] = causeCode(cause);
    if (fate !== 'new' && fate !== 'repeat') return;
    if (fate === 'new') frame += 2;
    columns.sourceFrame[n] = frame;
    columns.source[n] = -1000;
    columns.picked[n] = 100;
    columns.captured[n] = 200;
    columns.sized[n] = 300;
    columns.encodeIn[n] = 400;
    columns.encodeOut[n] = 5000;
    columns.written[n] = 9000;
    columns.bytes[n] = 1000 + n;
  });
  return columns;
}
