import { appendFileSync, existsSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { tableFromIPC } from 'apache-arrow';
import { concatColumns, createColumns, pyramidOf, sliceColumns, toRows, type LedgerColumns } from '@mellow/core';
import { fateCode } from '@mellow/model';
import { openLedgerReader } from './closedLedger';
import { openClosedLedger } from './closedWriter';
import { ledgerNames } from '../files/ledgerNames';
import { liveBatches, liveSeconds } from './storedLedger';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-ledger-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const rate = { num: 60, den: 1 };
const someRows = (first: number, length: number): LedgerColumns => {
  const columns = createColumns(length);
  for (let i = 0; i < length; i++) {
    columns.dueUs[i] = (first + i) * 16_667;
    columns.source[i] = -1000;
    columns.bytes[i] = first + i;
    columns.fate[i] = fateCode((first + i) % 50 === 7 ? 'encode-miss' : 'new');
  }
  return columns;
};

/** A ledger of so many rows, written as a take would hand them on: a second at a time. */
function write(rows: number): LedgerColumns {
  const writer = openClosedLedger(folder);
  const pieces: LedgerColumns[] = [];
  for (let n = 0; n < rows; n += 60) {
    const piece = someRows(n, Math.min(60, rows - n));
    pieces.push(piece);
    writer.add(piece);
  }
  writer.end();
  return concatColumns(pieces);
}

describe('a closed ledger', () => {
  it('of many batches is an Arrow file that any reader opens, and gives any range of it', async () => {
    const all = write(150_000);
    expect(tableFromIPC(readFileSync(join(folder, ledgerNames.closed))).numRows).toBe(150_000);
    const reader = await openLedgerReader(folder);
    expect(reader.rows).toBe(150_000);
    for (const [from, to] of [
      [0, 10],
      [65_530, 65_545],
      [131_000, 131_100],
      [149_990, 200_000],
      [200_000, 200_010],
    ] as const)
      expect(toRows(await reader.range(from, to), from)).toEqual(toRows(sliceColumns(all, from, to), from));
    let rows = 0;
    for await (const piece of reader.pieces()) {
      expect(piece.first).toBe(rows);
      rows += piece.rows.length;
    }
    expect(rows).toBe(150_000);
  });

  it('knows its losses and its timeline, with and without what is stored beside it', async () => {
    const all = write(150_000);
    const reader = await openLedgerReader(folder);
    const losses = await reader.losses();
    const coarse = await reader.pyramid(rate, 0, undefined, 500);
    expect(losses.total).toBe(3000);
    expect(coarse.encodeMisses.reduce((sum, n) => sum + n, 0)).toBe(3000);
    expect(await reader.pyramid(rate, 1000, 1400, 400)).toEqual({
      ...pyramidOf(sliceColumns(all, 0, 1400), rate, 1000, 1400, 400),
      dueFrames: 150_000,
    });
    writeFileSync(join(folder, ledgerNames.losses), 'no list');
    truncateSync(join(folder, ledgerNames.pyramid), 10);
    expect((await reader.losses()).total).toBe(3000);
    expect((await reader.pyramid(rate, 0, undefined, 500)).encodeMisses.reduce((sum, n) => sum + n, 0)).toBe(3000);
  });

  it('leaves nothing behind when it is given up', () => {
    const writer = openClosedLedger(folder);
    writer.add(someRows(0, 100));
    writer.drop();
    expect(existsSync(join(folder, ledgerNames.closed))).toBe(false);
  });
});

describe('what was live', () => {
  it('is read past a line and a batch that were cut off', () => {
    writeFileSync(join(folder, ledgerNames.seconds), '{"half a');
    expect([...liveSeconds(folder)]).toEqual([]);
    appendFileSync(join(folder, ledgerNames.stream), '');
    expect([...liveBatches(folder)]).toEqual([]);
  });
});
