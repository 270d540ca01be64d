import { fates, type FrameRate, type Pyramid } from '@mellow/model';
import { periodUs } from '../units';
import { NEVER, type LedgerColumns } from './columns';

/**
 * The rows from `from` to `to` in at most `buckets` pieces of equal length, for a timeline.
 * The frame time of a row is the time from one new picture to the next; means and maxima survive, so no spike is
 * smoothed away.
 */
export function pyramidOf(columns: LedgerColumns, rate: FrameRate, from: number, to: number, buckets: number): Pyramid {
  const end = Math.min(to, columns.length);
  const start = Math.min(from, end);
  const count = Math.max(1, Math.min(buckets, end - start));
  const rowsPerBucket = Math.max(1, (end - start) / count);
  const zeros = () => new Array<number>(count).fill(0);
  const out: Pyramid = {
    first: start,
    rowsPerBucket,
    periodUs: periodUs(rate),
    dueFrames: columns.length,
    meanMs: new Array<number | null>(count).fill(null),
    maxMs: new Array<number | null>(count).fill(null),
    bytes: zeros(),
    repeats: zeros(),
    captureMisses: zeros(),
    encodeMisses: zeros(),
    writeMisses: zeros(),
  };
  const filed = zeros();
  const intervals = pictureIntervalsMs(columns);
  for (let n = start; n < end; n++) {
    const b = Math.min(count - 1, Math.floor((n - start) / rowsPerBucket));
    const bump = (list: number[]) => (list[b] = (list[b] ?? 0) + 1);
    const fate = fates[columns.fate[n] ?? 0];
    if (fate === 'repeat') bump(out.repeats);
    else if (fate === 'capture-miss') bump(out.captureMisses);
    else if (fate === 'encode-miss') bump(out.encodeMisses);
    else if (fate === 'write-miss') bump(out.writeMisses);
    const bytes = columns.bytes[n] ?? NEVER;
    if (bytes !== NEVER) out.bytes[b] = (out.bytes[b] ?? 0) + bytes;
    const ms = intervals[n] ?? NaN;
    if (!Number.isNaN(ms)) {
      bump(filed);
      out.meanMs[b] = (out.meanMs[b] ?? 0) + ms;
      out.maxMs[b] = Math.max(out.maxMs[b] ?? 0, ms);
    }
  }
  out.meanMs = out.meanMs.map((sum, b) => (sum === null ? null : sum / (filed[b] ?? 1)));
  return out;
}

/**
 * Per row: the time from the last new picture to this one, by when the game presented them, milliseconds.
 * NaN for rows without a new picture, and for the first.
 */
export function pictureIntervalsMs(columns: LedgerColumns): Float64Array {
  const out = new Float64Array(columns.length).fill(NaN);
  const isNew = fates.indexOf('new');
  let beforeUs = NaN;
  for (let n = 0; n < columns.length; n++) {
    const source = columns.source[n] ?? NEVER;
    if (columns.fate[n] !== isNew || source === NEVER) continue;
    const presentedUs = (columns.dueUs[n] ?? 0) + source;
    out[n] = (presentedUs - beforeUs) / 1000;
    beforeUs = presentedUs;
  }
  return out;
}

/** So many pieces a stored pyramid has at most; beyond, neighbours are joined. */
const mostPieces = 16_384;
const firstRowsPerPiece = 64;

/** Columns of a stored pyramid, one value a piece of `rowsPerPiece` rows each. */
export const pyramidColumns = [
  'intervalSumMs',
  'intervals',
  'maxMs',
  'bytes',
  'repeats',
  'captureMisses',
  'encodeMisses',
  'writeMisses',
] as const;
export type PyramidColumn = (typeof pyramidColumns)[number];

/** The finest stored level of a closed ledger's timeline; coarser ones are sums and maxima of it. */
export interface PyramidPieces {
  rowsPerPiece: number;
  rows: number;
  columns: Record<PyramidColumn, Float64Array>;
}

export interface PyramidBuilder {
  row(columns: LedgerColumns, row: number): void;
  end(): PyramidPieces;
}

const fateColumns = new Map<number, PyramidColumn>([
  [fates.indexOf('repeat'), 'repeats'],
  [fates.indexOf('capture-miss'), 'captureMisses'],
  [fates.indexOf('encode-miss'), 'encodeMisses'],
  [fates.indexOf('write-miss'), 'writeMisses'],
]);

/** Builds the stored level of a timeline row by row, in memory that does not grow with the take. */
export function createPyramid(): PyramidBuilder {
  const newCode = fates.indexOf('new');
  const columns = Object.fromEntries(
    pyramidColumns.map((name) => [name, new Float64Array(mostPieces)]),
  ) as PyramidPieces['columns'];
  let rowsPerPiece = firstRowsPerPiece;
  let rows = 0;
  let beforeUs = NaN;
  const halve = (): void => {
    for (const name of pyramidColumns) {
      const values = columns[name];
      for (let i = 0; i < mostPieces / 2; i++) values[i] = joined(name, values[2 * i] ?? 0, values[2 * i + 1] ?? 0);
      values.fill(0, mostPieces / 2);
    }
    rowsPerPiece *= 2;
  };
  const add = (name: PyramidColumn, piece: number, value: number): void => {
    columns[name][piece] = joined(name, columns[name][piece] ?? 0, value);
  };
  return {
    row(ledger, row) {
      if (rows === rowsPerPiece * mostPieces) halve();
      const piece = Math.floor(rows++ / rowsPerPiece);
      const fate = ledger.fate[row] ?? 0;
      const counted = fateColumns.get(fate);
      if (counted) add(counted, piece, 1);
      const bytes = ledger.bytes[row] ?? NEVER;
      if (bytes !== NEVER) add('bytes', piece, bytes);
      const source = ledger.source[row] ?? NEVER;
      if (fate !== newCode || source === NEVER) return;
      const presentedUs = (ledger.dueUs[row] ?? 0) + source;
      const ms = (presentedUs - beforeUs) / 1000;
      beforeUs = presentedUs;
      if (Number.isNaN(ms)) return;
      add('intervalSumMs', piece, ms);
      add('intervals', piece, 1);
      add('maxMs', piece, ms);
    },
    end() {
      const pieces = Math.ceil(rows / rowsPerPiece);
      const used = Object.fromEntries(pyramidColumns.map((name) => [name, columns[name].slice(0, pieces)]));
      return { rowsPerPiece, rows, columns: used as PyramidPieces['columns'] };
    },
  };
}

function joined(name: PyramidColumn, a: number, b: number): number {
  return name === 'maxMs' ? Math.max(a, b) : a + b;
}

/**
 * A timeline from a stored level: whole pieces, at most `buckets` of them. Null where the rows asked for are fewer than
 * two pieces a bucket, so that they have to be looked at themselves.
 */
export function pyramidFromPieces(
  pieces: PyramidPieces,
  rate: FrameRate,
  from: number,
  to: number,
  buckets: number,
): Pyramid | null {
  const first = Math.floor(Math.min(from, pieces.rows) / pieces.rowsPerPiece);
  const end = Math.ceil(Math.min(to, pieces.rows) / pieces.rowsPerPiece);
  if (end - first < 2 * buckets) return null;
  const perBucket = Math.ceil((end - first) / buckets);
  const count = Math.ceil((end - first) / perBucket);
  const sums = (name: PyramidColumn): number[] =>
    Array.from({ length: count }, (_, bucket) => {
      let value = 0;
      const last = Math.min(end, first + (bucket + 1) * perBucket);
      for (let i = first + bucket * perBucket; i < last; i++) value = joined(name, value, pieces.columns[name][i] ?? 0);
      return value;
    });
  const intervals = sums('intervals');
  const whereKnown = (values: number[]) => values.map((value, i) => (intervals[i] ? value : null));
  return {
    first: first * pieces.rowsPerPiece,
    rowsPerBucket: perBucket * pieces.rowsPerPiece,
    periodUs: periodUs(rate),
    dueFrames: pieces.rows,
    meanMs: whereKnown(sums('intervalSumMs').map((sum, i) => sum / (intervals[i] || 1))),
    maxMs: whereKnown(sums('maxMs')),
    bytes: sums('bytes'),
    repeats: sums('repeats'),
    captureMisses: sums('captureMisses'),
    encodeMisses: sums('encodeMisses'),
    writeMisses: sums('writeMisses'),
  };
}
