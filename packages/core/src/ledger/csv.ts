import { causes, fates, timeColumns } from '@mellow/model';
import { NEVER, type LedgerColumns } from './columns';

/** Heading of the ledger as CSV: times are microseconds from due, empty = never. */
export const csvHeading = [
  'frame',
  'due_us',
  ...timeColumns.map((c) => `${c}_us`),
  'source_frame',
  'bytes',
  'key',
  'fate',
  'cause',
  'filled',
].join(',');

/** One row a frame (RFC 4180, CRLF), from `from` up to, not including, `to`. */
export function csvRows(columns: LedgerColumns, from: number, to: number, first = 0): string {
  const show = (value: number | undefined) => (value === undefined || value === NEVER ? '' : String(value));
  let text = '';
  for (let n = from; n < Math.min(to, columns.length); n++) {
    const cells = [
      first + n,
      columns.dueUs[n] ?? 0,
      ...timeColumns.map((c) => show(columns[c][n])),
      show(columns.sourceFrame[n]),
      show(columns.bytes[n]),
      columns.key[n] ?? 0,
      fates[columns.fate[n] ?? 0],
      causes[columns.cause[n] ?? 0],
      columns.filled[n] ?? 0,
    ];
    text += `${cells.join(',')}\r\n`;
  }
  return text;
}
