import { causeCode, fateCode, type FrameRate } from '@mellow/model';
import { dueUs, nearestDue } from '../units';
import { concatColumns, createColumns, NEVER, sliceColumns, type LedgerColumns } from './columns';
import { isFiled } from './identities';

/** Packets of the picture track as read back from the file. */
export interface FilePictures {
  timeUs: readonly number[];
  bytes: readonly number[];
  key: readonly boolean[];
}

export interface Reconciled {
  columns: LedgerColumns;
  filePictures: number[];
  /** Rows cut after the last filed picture of an interrupted take. */
  tailFrames: number;
  fileOffsetUs: number;
}

/**
 * Matches rows and pictures one to one by time stamp, never by order (rule 9 and the identities).
 * Fills `bytes` and `key`; a row that was accepted, yet is absent before the last picture, becomes a write miss.
 * @param interrupted rows after the last picture are cut and counted instead of being charged to a station; pictures that
 *   the file holds beyond a cut-off ledger get rows as an imported file would: new or missing, cause unknown
 */
export function reconcile(live: LedgerColumns, rate: FrameRate, file: FilePictures, interrupted: boolean): Reconciled {
  const firstUs = file.timeUs.length ? Math.min(...chunkMin(file.timeUs)) : 0;
  const fileOffsetUs = offsetOf(live, rate, firstUs);
  const filePictures = file.timeUs.map((timeUs) => nearestDue(rate, timeUs - fileOffsetUs));
  const last = filePictures.reduce((max, n) => Math.max(max, n), -1);
  const columns =
    interrupted && last >= live.length ? withUnknownRows(live, rate, last + 1, new Set(filePictures)) : live;
  const found = new Uint8Array(columns.length);
  filePictures.forEach((n, i) => {
    if (n >= columns.length) return;
    found[n] = 1;
    columns.bytes[n] = file.bytes[i] ?? 0;
    columns.key[n] = file.key[i] ? 1 : 0;
  });
  const end = interrupted ? Math.min(columns.length, last + 1) : columns.length;
  const pending = fateCode('pending');
  for (let n = 0; n < end; n++) {
    if (!found[n] && (isFiled(columns, n) || columns.fate[n] === pending)) {
      columns.fate[n] = fateCode('write-miss');
      columns.cause[n] = causeCode('not-found');
      columns.written[n] = NEVER;
    }
  }
  promoteRepeats(columns, end);
  return { columns: sliceColumns(columns, 0, end), filePictures, tailFrames: columns.length - end, fileOffsetUs };
}

/** Rows for pictures whose ledger was lost with the recorder (rule 10): what is there is new, what is not is missing. */
function withUnknownRows(
  live: LedgerColumns,
  rate: FrameRate,
  length: number,
  inFile: ReadonlySet<number>,
): LedgerColumns {
  const more = createColumns(length - live.length);
  for (let i = 0; i < more.length; i++) {
    const n = live.length + i;
    more.dueUs[i] = dueUs(rate, n);
    more.fate[i] = fateCode(inFile.has(n) ? 'new' : 'missing');
    more.cause[i] = causeCode('unknown');
  }
  return concatColumns([live, more]);
}

/** A repeat of a picture that was lost on its way is the first time the picture is in the file: it is new. */
function promoteRepeats(columns: LedgerColumns, end: number): void {
  let filedFrame = NEVER;
  for (let n = 0; n < end; n++) {
    if (!isFiled(columns, n)) continue;
    const frame = columns.sourceFrame[n] ?? NEVER;
    if (columns.fate[n] === fateCode('repeat') && frame > filedFrame) {
      columns.fate[n] = fateCode('new');
      columns.cause[n] = causeCode('none');
    }
    filedFrame = frame;
  }
}

/**
 * Source frames that were accepted, then lost at a later station, and never filed: a lost row does not consume
 * its source frame, so the game's count has them among those passed over.
 */
export function acceptedThenLost(columns: LedgerColumns): number {
  const filed = new Set<number>();
  const lost = new Set<number>();
  for (let n = 0; n < columns.length; n++) {
    const frame = columns.sourceFrame[n] ?? NEVER;
    if (frame !== NEVER) (isFiled(columns, n) ? filed : lost).add(frame);
  }
  let count = 0;
  for (const frame of lost) if (!filed.has(frame)) count++;
  return count;
}

/** Least values of long lists, in pieces that fit into a call. */
function chunkMin(values: readonly number[]): number[] {
  const least: number[] = [];
  for (let i = 0; i < values.length; i += 10_000) least.push(Math.min(...values.slice(i, i + 10_000)));
  return least;
}

/**
 * What the container added to every time stamp: the first picture's time minus the due of the first filed row,
 * where that is less than 100 ms (a codec's priming); otherwise the file begins later and nothing was added.
 */
function offsetOf(columns: LedgerColumns, rate: FrameRate, firstUs: number): number {
  for (let n = 0; n < columns.length; n++) {
    if (!isFiled(columns, n)) continue;
    const offset = firstUs - (columns.dueUs[n] ?? 0);
    const half = (rate.den * 500_000) / rate.num;
    return offset > half && offset < 100_000
      ? offset
      : Math.abs(offset) <= half && Math.abs(offset) > 1000
        ? offset
        : 0;
  }
  return 0;
}
