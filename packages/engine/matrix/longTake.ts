import {
  createColumns,
  createIdentityCheck,
  createLostFrameCounter,
  createReconciler,
  createSummary,
  dueUs,
  type LedgerColumns,
} from '@mellow/core';
import { fateCode, type FrameRate } from '@mellow/model';
import { openClosedLedger } from '../src/ledger/closedWriter';

/**
 * Closes a long take in driven time and prints what came of it as JSON: longTake.ts <fps> <hours> [folder]. A process of
 * its own, because the test runner's sandbox makes twenty million rows ten times slower.
 */
/** Rows of one second, as a recorder hands them on. */
function second(rate: FrameRate, first: number, length: number): LedgerColumns {
  const rows = createColumns(length);
  for (let i = 0; i < length; i++) {
    const n = first + i;
    rows.dueUs[i] = dueUs(rate, n);
    rows.fate[i] = fateCode(n % 1000 === 7 ? 'encode-miss' : 'new');
    if (n % 1000 === 7) continue;
    rows.sourceFrame[i] = n * 2;
    for (const [column, us] of [
      ['source', -900],
      ['picked', 100],
      ['captured', 200],
      ['sized', 300],
      ['encodeIn', 400],
      ['encodeOut', 4000],
      ['written', 9000],
    ] as const)
      rows[column][i] = us;
  }
  return rows;
}

/** Closes a take of so many hours in driven time; memory is sampled on the way. */
function close(rate: FrameRate, hours: number, folder: string | null) {
  const fps = rate.num / rate.den;
  const seconds = hours * 3600;
  const writer = folder ? openClosedLedger(folder) : null;
  const summary = createSummary(rate, 4);
  const identities = createIdentityCheck();
  const lost = createLostFrameCounter();
  const memory: number[] = [];
  let at = 0;
  const reconciler = createReconciler({
    rate,
    interrupted: false,
    nextRows: () => (at < seconds ? second(rate, at++ * fps, fps) : null),
    onRow(rows, row, n, inFile) {
      summary.row(rows, row);
      identities.row(rows, row, n, inFile);
      lost.row(rows, row);
      if (n % (fps * 600) === 0) memory.push(process.memoryUsage().rss);
    },
    onPiece: (rows) => writer?.add(rows),
    onOddity: identities.say,
  });
  for (let n = 0; n < seconds * fps; n++)
    if (n % 1000 !== 7) reconciler.picture({ timeUs: dueUs(rate, n), bytes: 4000, key: n % 120 === 0 });
  const { rows, pictures } = reconciler.end();
  writer?.end();
  const counts = { presented: null, passedOver: null, notReached: null };
  return {
    rows,
    disagreements: identities.end(pictures, counts),
    figures: summary.end({ tailFrames: 0, ...counts }),
    memory,
  };
}

const [fps, hours, folder] = process.argv.slice(2);
console.log(JSON.stringify(close({ num: Number(fps), den: 1 }, Number(hours), folder ?? null)));
