import { timeColumns, type LedgerRows } from '@mellow/model';

/** Marks a time or figure that never came to be. */
export const NEVER = -0x80000000;

/**
 * A take's frames in memory: one typed array a column, row n is due n (after `firstDue`).
 * Times are offsets from due in microseconds, NEVER = null; fate and cause are codes of the model's lists.
 */
export interface LedgerColumns {
  length: number;
  dueUs: Float64Array;
  source: Int32Array;
  picked: Int32Array;
  captured: Int32Array;
  sized: Int32Array;
  encodeIn: Int32Array;
  encodeOut: Int32Array;
  written: Int32Array;
  sourceFrame: Int32Array;
  bytes: Int32Array;
  key: Uint8Array;
  fate: Uint8Array;
  cause: Uint8Array;
  filled: Uint8Array;
}

export const intColumns = [...timeColumns, 'sourceFrame', 'bytes'] as const;
export const byteColumns = ['key', 'fate', 'cause', 'filled'] as const;

/** Empty columns for `length` frames; everything NEVER or 0. */
export function createColumns(length: number): LedgerColumns {
  const never = () => new Int32Array(length).fill(NEVER);
  return {
    length,
    dueUs: new Float64Array(length),
    source: never(),
    picked: never(),
    captured: never(),
    sized: never(),
    encodeIn: never(),
    encodeOut: never(),
    written: never(),
    sourceFrame: never(),
    bytes: never(),
    key: new Uint8Array(length),
    fate: new Uint8Array(length),
    cause: new Uint8Array(length),
    filled: new Uint8Array(length),
  };
}

/** Rows from `from` up to, not including, `to`, sharing memory with the given columns. */
export function sliceColumns(columns: LedgerColumns, from: number, to: number): LedgerColumns {
  const end = Math.min(to, columns.length);
  const start = Math.min(from, end);
  const sliced: LedgerColumns = { ...columns, length: end - start, dueUs: columns.dueUs.subarray(start, end) };
  for (const name of intColumns) sliced[name] = columns[name].subarray(start, end);
  for (const name of byteColumns) sliced[name] = columns[name].subarray(start, end);
  return sliced;
}

/** Several pieces one after another. */
export function concatColumns(pieces: readonly LedgerColumns[]): LedgerColumns {
  const all = createColumns(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    all.dueUs.set(piece.dueUs, at);
    for (const name of intColumns) all[name].set(piece[name], at);
    for (const name of byteColumns) all[name].set(piece[name], at);
    at += piece.length;
  }
  return all;
}

const nullable = (values: Int32Array): (number | null)[] => Array.from(values, (v) => (v === NEVER ? null : v));
const flags = (values: Uint8Array): boolean[] => Array.from(values, (v) => v !== 0);

/** Plain rows for the wire. @param first index of the first row within the take */
export function toRows(columns: LedgerColumns, first: number): LedgerRows {
  return {
    first,
    dueUs: Array.from(columns.dueUs),
    source: nullable(columns.source),
    picked: nullable(columns.picked),
    captured: nullable(columns.captured),
    sized: nullable(columns.sized),
    encodeIn: nullable(columns.encodeIn),
    encodeOut: nullable(columns.encodeOut),
    written: nullable(columns.written),
    sourceFrame: nullable(columns.sourceFrame),
    bytes: nullable(columns.bytes),
    key: flags(columns.key),
    fate: Array.from(columns.fate),
    cause: Array.from(columns.cause),
    filled: flags(columns.filled),
  };
}
