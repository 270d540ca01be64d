import * as fc from 'fast-check';
import { tableFromIPC } from 'apache-arrow';
import { concatColumns, createColumns, NEVER, toRows, type LedgerColumns } from '@mellow/core';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ledgerBatch, ledgerStreamHead, readLedger } from './arrowRows';
import { writeClosedLedger } from './closedWriter';

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-rows-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const ledgerFileBytes = (columns: LedgerColumns): Uint8Array => {
  writeClosedLedger(folder, columns);
  return readFileSync(join(folder, 'ledger.arrow'));
};

const someColumns = (length: number, seed: number): LedgerColumns => {
  const columns = createColumns(length);
  for (let n = 0; n < length; n++) {
    columns.dueUs[n] = n * 16_667 + seed;
    columns.picked[n] = (n + seed) % 3 === 0 ? NEVER : n;
    columns.bytes[n] = n * 7;
    columns.fate[n] = n % 6;
    columns.cause[n] = n % 17;
    columns.key[n] = n % 2;
  }
  return columns;
};
const joined = (...parts: Uint8Array[]) => new Uint8Array(Buffer.concat(parts));

describe('ledgers on the drive', () => {
  it('are Apache Arrow that any reader opens, with null for never', () => {
    const table = tableFromIPC(ledgerFileBytes(someColumns(9, 0)));
    expect(table.numRows).toBe(9);
    expect(table.schema.fields.map((f) => f.name)).toContain('encodeOut');
    expect(table.getChild('picked')?.get(0)).toBeNull();
    expect(table.getChild('picked')?.get(1)).toBe(1);
  });
  it('come back as they went, as a file and as a stream of batches', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 5 }), (lengths) => {
        const pieces = lengths.map((length, i) => someColumns(length, i));
        const whole = concatColumns(pieces);
        expect(toRows(readLedger(joined(ledgerStreamHead(), ...pieces.map(ledgerBatch))), 0)).toEqual(toRows(whole, 0));
        expect(toRows(readLedger(ledgerFileBytes(whole)), 0)).toEqual(toRows(whole, 0));
      }),
      { numRuns: 25 },
    );
  });
  it('give their whole batches when the stream was cut off anywhere', () => {
    const batches = [someColumns(60, 0), someColumns(60, 1), someColumns(60, 2)].map(ledgerBatch);
    const head = ledgerStreamHead();
    const bytes = joined(head, ...batches);
    const second = head.length + batches[0]!.length;
    for (const length of [
      head.length,
      second - 1,
      second,
      second + 5,
      second + batches[1]!.length - 8,
      bytes.length - 1,
      bytes.length,
    ]) {
      const rows = readLedger(bytes.slice(0, length)).length;
      const whole = batches.reduce(
        (sum, _batch, i) =>
          head.length + batches.slice(0, i + 1).reduce((s, b) => s + b.length, 0) <= length ? sum + 60 : sum,
        0,
      );
      expect(rows).toBe(whole);
    }
  });
});
