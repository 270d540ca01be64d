import { closeSync, fsyncSync, openSync, renameSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { AsyncByteQueue, RecordBatchFileWriter, tableFromArrays, tableToIPC } from 'apache-arrow';
import {
  concatColumns,
  createLossCounter,
  createPyramid,
  pyramidColumns,
  sliceColumns,
  type LedgerColumns,
  type PyramidPieces,
} from '@mellow/core';
import type { LossRun, SecondRow } from '@mellow/model';
import { syncFolder, temporaryBeside, writeDurably, writeFully } from '../files/durable';
import { batchOf, ledgerSchema, rowsPerBatch } from './arrowRows';
import { ledgerNames } from '../files/ledgerNames';

/** A queue that hands bytes on instead of keeping them. */
class HandOn extends AsyncByteQueue {
  constructor(private readonly take: (bytes: Uint8Array) => void) {
    super();
  }
  override write(value: Parameters<AsyncByteQueue['write']>[0]): void {
    this.take(
      new Uint8Array((value as Uint8Array).buffer, (value as Uint8Array).byteOffset, (value as Uint8Array).byteLength),
    );
  }
}

/** Writes an Arrow file of many batches without holding it. */
function openArrowFile(path: string): { add(rows: LedgerColumns): void; end(): void; drop(): void } {
  const temporary = temporaryBeside(path);
  const handle = openSync(temporary, 'wx');
  const writer = new RecordBatchFileWriter({ autoDestroy: false });
  writer.reset(new HandOn((bytes) => writeFully(handle, bytes, null)) as never, ledgerSchema);
  return {
    add: (rows) => void writer.write(batchOf(rows)),
    end() {
      writer.finish();
      fsyncSync(handle);
      closeSync(handle);
      renameSync(temporary, path);
      syncFolder(dirname(path));
    },
    drop() {
      closeSync(handle);
      rmSync(temporary, { force: true });
    },
  };
}

export interface ClosedLedgerWriter {
  /** Takes final rows in pieces of any length. */
  add(rows: LedgerColumns): void;
  /** Everything gets its name, durable; the ledger last, so that one that is there is whole with all that belongs to it. */
  end(): { total: number; runs: LossRun[] };
  drop(): void;
}

/** Writes a closed ledger with its timeline and its losses, in memory that does not grow with the take. */
export function openClosedLedger(folder: string): ClosedLedgerWriter {
  const file = openArrowFile(join(folder, ledgerNames.closed));
  const pyramid = createPyramid();
  const losses = createLossCounter();
  let waiting: LedgerColumns[] = [];
  let rows = 0;
  let waitingRows = 0;
  const flush = (everything: boolean): void => {
    if (!everything && waitingRows < rowsPerBatch) return;
    let all = concatColumns(waiting);
    while (all.length >= rowsPerBatch || (everything && all.length)) {
      file.add(sliceColumns(all, 0, rowsPerBatch));
      all = sliceColumns(all, rowsPerBatch, all.length);
    }
    waiting = all.length ? [all] : [];
    waitingRows = all.length;
  };
  return {
    add(piece) {
      for (let row = 0; row < piece.length; row++) {
        pyramid.row(piece, row);
        losses.row(piece, row, rows++);
      }
      if (!piece.length) return;
      waiting.push(piece);
      waitingRows += piece.length;
      flush(false);
    },
    end() {
      flush(true);
      const lost = losses.end();
      writeDurably(join(folder, ledgerNames.losses), JSON.stringify(lost));
      writeDurably(join(folder, ledgerNames.pyramid), pyramidBytes(pyramid.end()));
      file.end();
      return lost;
    },
    drop: file.drop,
  };
}

function pyramidBytes(pieces: PyramidPieces): Uint8Array {
  const table = tableFromArrays(Object.fromEntries(pyramidColumns.map((name) => [name, pieces.columns[name]])));
  table.schema.metadata.set('rowsPerPiece', String(pieces.rowsPerPiece));
  table.schema.metadata.set('rows', String(pieces.rows));
  return tableToIPC(table, 'file');
}

/** Writes a whole ledger as a closed one. */
export function writeClosedLedger(folder: string, columns: LedgerColumns): { total: number; runs: LossRun[] } {
  const writer = openClosedLedger(folder);
  writer.add(columns);
  return writer.end();
}

/** Puts another ledger and other seconds in the place of a closed take's: a simulated take's times come from the model. */
export function replaceClosedLedger(folder: string, columns: LedgerColumns, seconds: readonly SecondRow[]): void {
  writeClosedLedger(folder, columns);
  writeDurably(join(folder, ledgerNames.seconds), seconds.map((row) => `${JSON.stringify(row)}\n`).join(''));
}
