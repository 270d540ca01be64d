import { acceptedThenLost, brokenIdentities, reconcile, summarise, type LedgerColumns } from '@mellow/core';
import type { FrameRate, LedgerSummary, MediaFacts, SecondRow } from '@mellow/model';
import { readBack, type ReadBack } from '../media/readBack';
import { writeClosedLedger } from './ledgerWriter';

export interface CloseInput {
  folder: string;
  filePath: string;
  rate: FrameRate;
  cores: number;
  stored: { columns: LedgerColumns; seconds: readonly SecondRow[] };
  /** The file ends before the ledger: rows after its last picture are cut and counted. */
  interrupted: boolean;
  /** Frames that had been due in all, where the ledger may have lost some. */
  dueInAll?: number;
  presented: number | null;
  passedOver: number | null;
  notReached: number | null;
  log: (level: 'info' | 'warn' | 'error', text: string) => void;
}

export interface ClosedTake {
  facts: MediaFacts | null;
  summary: LedgerSummary;
  tailFrames: number;
  fileOffsetUs: number | null;
}

/** Reads the file back, reconciles it with the ledger, checks the identities and stores the closed ledger. */
export function closeTake(input: CloseInput): ClosedTake {
  let file: ReadBack | null = null;
  try {
    file = readBack(input.filePath);
  } catch (error) {
    input.log('error', `The file cannot be read back: ${error instanceof Error ? error.message : String(error)}`);
  }
  const pictures = file?.pictures ?? { timeUs: [], bytes: [], key: [] };
  const { columns, filePictures, fileOffsetUs, ...matched } = reconcile(
    input.stored.columns,
    input.rate,
    pictures,
    input.interrupted || !file,
  );
  const tailFrames =
    input.dueInAll === undefined ? matched.tailFrames : Math.max(matched.tailFrames, input.dueInAll - columns.length);
  const counts = input.interrupted
    ? { presented: null, passedOver: null, notReached: null }
    : {
        presented: input.presented,
        passedOver: input.passedOver === null ? null : input.passedOver + acceptedThenLost(columns),
        notReached: input.notReached,
      };
  if (file) {
    for (const sentence of brokenIdentities(columns, { filePictures, ...counts }).slice(0, 20))
      input.log('error', `Ledger and file disagree: ${sentence}.`);
  }
  writeClosedLedger(input.folder, columns);
  return {
    facts: file?.facts ?? null,
    summary: summarise(columns, {
      rate: input.rate,
      seconds: input.stored.seconds,
      cores: input.cores,
      tailFrames,
      ...counts,
    }),
    tailFrames,
    fileOffsetUs: file ? fileOffsetUs : null,
  };
}
