import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
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
import { openLedgerReader } from '../src/ledger/closedLedger';

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-long-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

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
function close(rate: FrameRate, hours: number, store: boolean) {
  const fps = rate.num / rate.den;
  const seconds = hours * 3600;
  const writer = store ? openClosedLedger(folder) : null;
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

const median = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

describe('takes of a day, closed while they are read', () => {
  it.each([
    [60, 24, true],
    [240, 20, false],
  ] as const)('%d fps for %d hours: memory is flat, and every frame is accounted for', async (fps, hours, store) => {
    const { rows, disagreements, figures, memory } = close({ num: fps, den: 1 }, hours, store);
    expect(rows).toBe(fps * hours * 3600);
    expect(disagreements).toEqual([]);
    expect(figures.filed + (figures.fates['encode-miss'] ?? 0)).toBe(rows);
    const third = Math.floor(memory.length / 3);
    expect(median(memory.slice(2 * third)) / median(memory.slice(third, 2 * third))).toBeLessThan(1.15);
    if (!store) return;
    expect(statSync(join(folder, 'ledger.arrow')).size).toBeGreaterThan(1e8);
    const reader = await openLedgerReader(folder);
    expect(reader.rows).toBe(rows);
    expect((await reader.range(rows - 3, rows)).length).toBe(3);
    expect(
      (await reader.pyramid({ num: fps, den: 1 }, 0, undefined, 1200)).encodeMisses.reduce((a, b) => a + b, 0),
    ).toBe(figures.fates['encode-miss']);
  });
});
