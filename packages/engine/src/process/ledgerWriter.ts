import {
  appendFileSync,
  closeSync,
  fdatasyncSync,
  openSync,
  readFileSync,
  renameSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import { concatColumns, createColumns, dueUs, type LedgerColumns } from '@mellow/core';
import { ledgerHeaderSchema, secondRowSchema, type FrameRate, type LedgerHeader, type SecondRow } from '@mellow/model';
import { ledgerBatch, ledgerFileBytes, ledgerStreamHead, readLedger } from './ledgerFile';

/** Names of a take's files in its own folder. */
export const ledgerNames = {
  header: 'header.json',
  stream: 'ledger.arrows',
  closed: 'ledger.arrow',
  seconds: 'seconds.ndjson',
  result: 'result.json',
  log: 'log.ndjson',
} as const;

export interface LedgerWriter {
  /** Appends whole rows and the row of a second, and makes them durable. */
  append(rows: LedgerColumns, second: SecondRow | null): void;
  all(): { columns: LedgerColumns; seconds: SecondRow[] };
  end(): void;
}

export function openLedgerWriter(folder: string, header: LedgerHeader): LedgerWriter {
  writeFileSync(join(folder, ledgerNames.header), JSON.stringify(header, null, 1));
  const stream = openSync(join(folder, ledgerNames.stream), 'w');
  writeSync(stream, ledgerStreamHead());
  const pieces: LedgerColumns[] = [];
  const seconds: SecondRow[] = [];
  return {
    append(rows, second) {
      if (rows.length) {
        pieces.push(rows);
        writeSync(stream, ledgerBatch(rows));
        fdatasyncSync(stream);
      }
      if (second) {
        seconds.push(second);
        appendFileSync(join(folder, ledgerNames.seconds), `${JSON.stringify(second)}\n`);
      }
    },
    all: () => ({ columns: concatColumns(pieces), seconds }),
    end: () => closeSync(stream),
  };
}

/** Rows copied out of the shared ring. */
export function copyRows(
  copy: (from: number, to: number, target: LedgerColumns, due: (n: number) => number) => void,
  rate: FrameRate,
  from: number,
  to: number,
): LedgerColumns {
  const rows = createColumns(to - from);
  copy(from, to, rows, (n) => dueUs(rate, n));
  return rows;
}

/** Writes the closed ledger beside the stream; the stream stays as the record of what was live. */
export function writeClosedLedger(folder: string, columns: LedgerColumns): void {
  const temporary = join(folder, `${ledgerNames.closed}.part`);
  writeFileSync(temporary, ledgerFileBytes(columns));
  renameSync(temporary, join(folder, ledgerNames.closed));
}

/** Puts another ledger and other seconds in the place of a closed take's: a simulated take's times come from the model. */
export function replaceClosedLedger(folder: string, columns: LedgerColumns, seconds: readonly SecondRow[]): void {
  writeClosedLedger(folder, columns);
  writeFileSync(join(folder, ledgerNames.seconds), seconds.map((row) => `${JSON.stringify(row)}\n`).join(''));
}

export interface StoredLedger {
  header: LedgerHeader;
  columns: LedgerColumns;
  seconds: SecondRow[];
}

/** What is in a take's folder: the closed ledger, or the whole batches of the stream. */
export function readStoredLedger(folder: string): StoredLedger {
  const header = ledgerHeaderSchema.parse(JSON.parse(readFileSync(join(folder, ledgerNames.header), 'utf8')));
  return { header, columns: readLedgerColumns(folder), seconds: readSeconds(folder) };
}

export function readLedgerColumns(folder: string): LedgerColumns {
  for (const name of [ledgerNames.closed, ledgerNames.stream]) {
    try {
      return readLedger(new Uint8Array(readFileSync(join(folder, name))));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
  }
  return createColumns(0);
}

/** Rows of seconds; a line that was cut off is left out. */
export function readSeconds(folder: string): SecondRow[] {
  let text = '';
  try {
    text = readFileSync(join(folder, ledgerNames.seconds), 'utf8');
  } catch {
    return [];
  }
  const rows: SecondRow[] = [];
  for (const line of text.split('\n')) {
    try {
      rows.push(secondRowSchema.parse(JSON.parse(line)));
    } catch {
      break;
    }
  }
  return rows;
}
