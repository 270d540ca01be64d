import {
  Float64,
  Int32,
  makeData,
  RecordBatch,
  RecordBatchReader,
  Schema,
  Field,
  Struct,
  Table,
  tableToIPC,
  Uint8,
  type Data,
  type DataType,
} from 'apache-arrow';
import { byteColumns, concatColumns, createColumns, intColumns, NEVER, type LedgerColumns } from '@mellow/core';

/** Ledgers as Apache Arrow: while rolling a stream with a batch a second, when closed a file of large batches. */

const fields = [
  new Field('dueUs', new Float64(), false),
  ...intColumns.map((name) => new Field(name, new Int32(), true)),
  ...byteColumns.map((name) => new Field(name, new Uint8(), false)),
];
/** Rows a batch of a closed ledger, so that a range can be found without reading what is before it. */
export const rowsPerBatch = 65_536;
export const ledgerSchema = new Schema(fields, new Map([['rowsPerBatch', String(rowsPerBatch)]]));

function validity(values: Int32Array): { bitmap: Uint8Array; nulls: number } {
  const bitmap = new Uint8Array((((values.length + 7) >> 3) + 7) & ~7);
  let nulls = 0;
  values.forEach((value, i) => {
    if (value === NEVER) nulls++;
    else bitmap[i >> 3] = (bitmap[i >> 3] ?? 0) | (1 << (i & 7));
  });
  return { bitmap, nulls };
}

export function batchOf(columns: LedgerColumns): RecordBatch {
  const { length } = columns;
  const children: Data<DataType>[] = [
    makeData({ type: new Float64(), length, data: columns.dueUs.slice(0, length) }),
    ...intColumns.map((name) => {
      const data = columns[name].slice(0, length);
      const { bitmap, nulls } = validity(data);
      return makeData({ type: new Int32(), length, data, nullBitmap: bitmap, nullCount: nulls });
    }),
    ...byteColumns.map((name) => makeData({ type: new Uint8(), length, data: columns[name].slice(0, length) })),
  ];
  return new RecordBatch(ledgerSchema, makeData({ type: new Struct(fields), length, nullCount: 0, children }));
}

const endMark = 8;
const streamOf = (columns: LedgerColumns): Uint8Array =>
  tableToIPC(new Table(ledgerSchema, [batchOf(columns)]), 'stream');
const schemaBytes = (): Uint8Array => tableToIPC(new Table(ledgerSchema, []), 'stream').slice(0, -endMark);

/** The opening message of a stream. */
export const ledgerStreamHead = schemaBytes;

/** One batch of a stream, without the opening and the end mark. */
export function ledgerBatch(columns: LedgerColumns): Uint8Array {
  return streamOf(columns).slice(schemaBytes().length, -endMark);
}

/**
 * Batches of a stream, or of a file of one batch, as they are read; a stream that was cut off gives its whole batches.
 * @param source the whole, or its pieces one after another
 * @throws where it does not begin as a ledger does
 */
export function* readBatches(source: Uint8Array | Iterable<Uint8Array>): Generator<LedgerColumns> {
  let read = false;
  let first: Uint8Array | null = null;
  const pieces = function* (): Generator<Uint8Array> {
    for (const piece of source instanceof Uint8Array ? [source] : source) {
      first ??= piece;
      yield piece;
    }
  };
  try {
    // A whole in memory may be a file, which is read from its end; pieces are always a stream.
    for (const batch of RecordBatchReader.from(source instanceof Uint8Array ? source : pieces())) {
      read = true;
      yield columnsOf(batch);
    }
  } catch (error) {
    // A cut-off stream ends in the middle of a message; the batches before it are whole. Anything else is no ledger.
    if (!read && !startsAsStream(source instanceof Uint8Array ? source : (first ?? new Uint8Array()))) throw error;
  }
}

/** A stream begins with its continuation mark and its description. */
function startsAsStream(bytes: Uint8Array): boolean {
  const head = schemaBytes();
  return bytes.length >= head.length && Buffer.compare(bytes.subarray(0, 4), head.subarray(0, 4)) === 0;
}

/** Reads a stream or a file whole. */
export const readLedger = (bytes: Uint8Array): LedgerColumns => concatColumns([...readBatches(bytes)]);

/** One batch as columns. */
export function columnsOf(batch: RecordBatch): LedgerColumns {
  const columns = createColumns(batch.numRows);
  columns.dueUs.set(batch.getChild('dueUs')?.toArray() ?? []);
  for (const name of intColumns) {
    const vector = batch.getChild(name);
    const data = vector?.data[0];
    if (!vector || !data) continue;
    columns[name].set((data.values as Int32Array).subarray(0, batch.numRows));
    if (data.nullCount > 0) for (let i = 0; i < batch.numRows; i++) if (!vector.isValid(i)) columns[name][i] = NEVER;
  }
  for (const name of byteColumns) columns[name].set(batch.getChild(name)?.toArray() ?? []);
  return columns;
}
