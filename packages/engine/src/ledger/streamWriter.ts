import { closeSync, fdatasyncSync, openSync } from 'node:fs';
import { join } from 'node:path';
import { createColumns, dueUs, type LedgerColumns, errorText } from '@mellow/core';
import type { FrameRate, LedgerHeader, SecondRow } from '@mellow/model';
import { writeDurably, writeFully } from '../files/durable';
import { ledgerBatch, ledgerStreamHead } from './arrowRows';
import { ledgerNames } from '../files/ledgerNames';

export interface LedgerStreamWriter {
  /**
   * Appends whole rows and the row of a second, and makes them durable. What cannot be written waits and is tried again
   * with the next call: the footage does not depend on it.
   */
  append(rows: LedgerColumns, second: SecondRow | null): void;
  /** Why rows wait, null while all is written. */
  trouble(): string | null;
  /** Rows that were given up because too many waited. */
  lostRows(): number;
  end(): void;
}

/** Rows that may wait for a ledger that cannot be written: an hour at 60 fps. */
const mostWaitingRows = 216_000;

/** Begins a take's ledger: its header, durable, and the stream of its rows. */
export function openLedgerStream(folder: string, header: LedgerHeader): LedgerStreamWriter {
  writeDurably(join(folder, ledgerNames.header), JSON.stringify(header, null, 1));
  const stream = openSync(join(folder, ledgerNames.stream), 'w');
  const seconds = openSync(join(folder, ledgerNames.seconds), 'w');
  let streamAt = 0;
  let secondsAt = 0;
  let waiting: LedgerColumns[] = [];
  let waitingSeconds: SecondRow[] = [];
  let waitingRows = 0;
  let lost = 0;
  let trouble: string | null = null;
  writeFully(stream, ledgerStreamHead(), 0);
  streamAt = ledgerStreamHead().length;

  function write(): void {
    for (let rows = waiting[0]; rows; rows = waiting[0]) {
      const bytes = ledgerBatch(rows);
      // At a position of our own: what a failed write left behind is written over.
      writeFully(stream, bytes, streamAt);
      streamAt += bytes.length;
      waiting.shift();
      waitingRows -= rows.length;
    }
    fdatasyncSync(stream);
    const lines = Buffer.from(waitingSeconds.map((row) => `${JSON.stringify(row)}\n`).join(''), 'utf8');
    writeFully(seconds, lines, secondsAt);
    secondsAt += lines.length;
    waitingSeconds = [];
  }

  return {
    append(rows, second) {
      if (rows.length) {
        waiting.push(rows);
        waitingRows += rows.length;
      }
      if (second) waitingSeconds.push(second);
      try {
        write();
        trouble = null;
      } catch (error) {
        trouble = errorText(error);
        if (waitingRows <= mostWaitingRows) return;
        lost += waitingRows;
        waiting = [];
        waitingRows = 0;
        waitingSeconds = [];
      }
    },
    trouble: () => trouble,
    lostRows: () => lost + waitingRows,
    end() {
      closeSync(stream);
      closeSync(seconds);
    },
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
