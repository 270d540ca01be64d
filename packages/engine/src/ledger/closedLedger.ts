import { existsSync, readFileSync, statSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { RecordBatchReader, tableFromIPC, type RecordBatchFileReader } from 'apache-arrow';
import {
  concatColumns,
  lossRuns,
  pyramidColumns,
  pyramidFromPieces,
  pyramidOf,
  sliceColumns,
  type LedgerColumns,
  type PyramidPieces,
  errorText,
} from '@mellow/core';
import { lossListSchema, type FrameRate, type LossRun, type Pyramid } from '@mellow/model';
import { columnsOf } from './arrowRows';
import { ledgerNames } from '../files/ledgerNames';
import { readLedgerColumns } from './storedLedger';

/** A take's ledger for readers: only what is asked for is read. */
export interface LedgerReader {
  rows: number;
  range(from: number, to: number): Promise<LedgerColumns>;
  /** All rows in pieces, in order, each with the index of its first row. */
  pieces(): AsyncGenerator<{ first: number; rows: LedgerColumns }>;
  pyramid(rate: FrameRate, from: number, to: number | undefined, buckets: number): Promise<Pyramid>;
  losses(): Promise<{ total: number; runs: LossRun[] }>;
}

/** Opens the ledger in a folder: the closed one by batches, or what is live of it. @throws in words where it is broken */
export async function openLedgerReader(folder: string): Promise<LedgerReader> {
  const path = join(folder, ledgerNames.closed);
  try {
    if (existsSync(path) && statSync(path).size > 0) return await batchedReader(folder, path);
    return wholeReader(readLedgerColumns(folder));
  } catch (error) {
    throw new Error(`The ledger of this take cannot be read: ${errorText(error)}.`);
  }
}

async function withFile<T>(path: string, work: (reader: RecordBatchFileReader) => Promise<T>): Promise<T> {
  const handle = await open(path, 'r');
  try {
    const reader = (await RecordBatchReader.from(handle as never)) as unknown as RecordBatchFileReader;
    await reader.open();
    return await work(reader);
  } finally {
    await handle.close();
  }
}

async function batchedReader(folder: string, path: string): Promise<LedgerReader> {
  const { rows, each } = await withFile(path, async (reader) => {
    const count = reader.numRecordBatches;
    const perBatch = Number(reader.schema.metadata.get('rowsPerBatch') ?? 0);
    // Ledgers of earlier versions hold one batch of any length.
    if (count === 0) return { rows: 0, each: 1 };
    const last = await reader.readRecordBatch(count - 1);
    const tail = last?.numRows ?? 0;
    return { rows: (count - 1) * perBatch + tail, each: count === 1 ? Math.max(1, tail) : perBatch };
  });
  const range = async (from: number, to: number): Promise<LedgerColumns> => {
    const [start, end] = [Math.min(from, rows), Math.min(Math.max(from, to), rows)];
    const [first, last] = [Math.floor(start / each), Math.ceil(end / each)];
    const parts = await withFile(path, async (reader) => {
      const list: LedgerColumns[] = [];
      for (let i = first; i < last; i++) {
        const batch = await reader.readRecordBatch(i);
        if (batch) list.push(columnsOf(batch));
      }
      return list;
    });
    return sliceColumns(concatColumns(parts), start - first * each, end - first * each);
  };
  return {
    rows,
    range,
    async *pieces() {
      for (let first = 0; first < rows; first += each) yield { first, rows: await range(first, first + each) };
    },
    async pyramid(rate, from, to, buckets) {
      const stored = orNull(() => readPyramid(folder));
      const end = to ?? rows;
      const coarse = stored ? pyramidFromPieces(stored, rate, from, end, buckets) : null;
      if (coarse) return coarse;
      // Some rows before, so that the first new picture knows how long the last one stood.
      const start = Math.min(from, rows);
      const before = Math.max(0, start - 1000);
      const columns = await range(before, end);
      const fine = pyramidOf(columns, rate, start - before, columns.length, buckets);
      return { ...fine, first: start, dueFrames: rows };
    },
    async losses() {
      const file = join(folder, ledgerNames.losses);
      const stored = orNull(() => lossListSchema.parse(JSON.parse(readFileSync(file, 'utf8'))));
      return stored ?? listOf(await range(0, rows));
    },
  };
}

/** What is stored beside the ledger only saves time: where it is missing or broken, the ledger itself is looked at. */
function orNull<T>(read: () => T): T | null {
  try {
    return read();
  } catch {
    return null;
  }
}

function listOf(columns: LedgerColumns): { total: number; runs: LossRun[] } {
  const runs = lossRuns(columns);
  return { total: runs.reduce((sum, run) => sum + run.frames, 0), runs: runs.slice(0, 2000) };
}

function wholeReader(columns: LedgerColumns): LedgerReader {
  return {
    rows: columns.length,
    range: (from, to) => Promise.resolve(sliceColumns(columns, from, to)),
    async *pieces() {
      yield { first: 0, rows: columns };
    },
    pyramid: (rate, from, to, buckets) =>
      Promise.resolve(pyramidOf(columns, rate, from, to ?? columns.length, buckets)),
    losses: () => Promise.resolve(listOf(columns)),
  };
}

function readPyramid(folder: string): PyramidPieces | null {
  const path = join(folder, ledgerNames.pyramid);
  if (!existsSync(path)) return null;
  const table = tableFromIPC(readFileSync(path));
  const columns = Object.fromEntries(
    pyramidColumns.map((name) => [name, Float64Array.from(table.getChild(name)?.toArray() ?? [])]),
  ) as PyramidPieces['columns'];
  return {
    rowsPerPiece: Number(table.schema.metadata.get('rowsPerPiece')),
    rows: Number(table.schema.metadata.get('rows')),
    columns,
  };
}
