import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { concatColumns, type LedgerColumns } from '@mellow/core';
import { ledgerHeaderSchema, secondRowSchema, type LedgerHeader, type SecondRow } from '@mellow/model';
import { readBatches } from './arrowRows';
import { ledgerNames } from '../files/ledgerNames';
import { fileLines, filePieces } from '../files/pieces';

/** @throws in words where the header is missing, empty or no header */
export function readHeader(folder: string): LedgerHeader {
  const text = readFileSync(join(folder, ledgerNames.header), 'utf8');
  try {
    return ledgerHeaderSchema.parse(JSON.parse(text));
  } catch {
    throw new Error('the description of the take (header.json) is broken');
  }
}

/** Rows as they were live, a batch after another; what was cut off in the middle is left out. */
export function* liveBatches(folder: string): Generator<LedgerColumns> {
  const path = join(folder, ledgerNames.stream);
  if (existsSync(path) && statSync(path).size > 0) yield* readBatches(filePieces(path));
}

/** Rows of seconds; the first line that is none ends them. */
export function* liveSeconds(folder: string): Generator<SecondRow> {
  const path = join(folder, ledgerNames.seconds);
  if (!existsSync(path)) return;
  for (const line of fileLines(path)) {
    let row: SecondRow;
    try {
      row = secondRowSchema.parse(JSON.parse(line));
    } catch {
      return;
    }
    yield row;
  }
}

export const readSeconds = (folder: string): SecondRow[] => [...liveSeconds(folder)];

/** The whole ledger at once, closed or as far as it was live; for short takes and tests. */
export function readLedgerColumns(folder: string): LedgerColumns {
  const closed = join(folder, ledgerNames.closed);
  if (existsSync(closed) && statSync(closed).size > 0) return concatColumns([...readBatches(readFileSync(closed))]);
  return concatColumns([...liveBatches(folder)]);
}
