import {
  createIdentityCheck,
  createLostFrameCounter,
  createReconciler,
  createSummary,
  type SourceCounts,
  errorText,
} from '@mellow/core';
import type { ReadBackResult } from '@mellow/model';
import { readFileBack, type PictureFacts } from '../reading/readBack';
import { openClosedLedger } from './closedWriter';
import { liveBatches, liveSeconds, readHeader } from './storedLedger';

export interface CloseLedgerInput {
  folder: string;
  filePath: string;
  /** The recorder or the drive gave up: rows after the last picture are cut and counted, not charged to a station. */
  interrupted: boolean;
  /** Frames known to have been due in all, where the ledger itself may end before. */
  dueInAll?: number;
  counts: SourceCounts;
  log: (level: 'info' | 'warn' | 'error', text: string) => void;
  /** Told how far the file was read, in bytes. */
  progress: (done: number, of: number | null) => void;
}

/**
 * Reads a take's file back while its ledger passes by, matches both, checks the identities and stores the closed ledger.
 * Neither file nor ledger is ever held whole.
 */
export function closeLedger(input: CloseLedgerInput): ReadBackResult {
  const header = readHeader(input.folder);
  const { rate } = header;
  const writer = openClosedLedger(input.folder);
  const summary = createSummary(rate, header.machine.cores);
  const identities = createIdentityCheck();
  const lostFrames = createLostFrameCounter();
  const rows = liveBatches(input.folder);
  let facts: ReadBackResult['facts'] = null;
  const pictures: { interrupted: boolean } = { interrupted: input.interrupted };
  const reconciler = createReconciler({
    rate,
    get interrupted() {
      return pictures.interrupted;
    },
    nextRows: () => rows.next().value ?? null,
    onRow(columns, row, n, inFile) {
      summary.row(columns, row);
      identities.row(columns, row, n, inFile);
      lostFrames.row(columns, row);
    },
    onPiece: writer.add,
    onOddity: identities.say,
  });
  try {
    try {
      facts = readFileBack(input.filePath, (picture: PictureFacts) => reconciler.picture(picture), input.progress);
    } catch (error) {
      pictures.interrupted = true;
      input.log('error', `The file cannot be read back: ${errorText(error)}`);
    }
    const matched = reconciler.end();
    const tailFrames =
      input.dueInAll === undefined ? matched.tailFrames : Math.max(matched.tailFrames, input.dueInAll - matched.rows);
    const counts = countsOf(input, lostFrames.end());
    const disagreements = facts ? identities.end(matched.pictures, counts) : [];
    for (const sentence of disagreements.slice(0, 20)) input.log('error', `Ledger and file disagree: ${sentence}.`);
    for (const second of liveSeconds(input.folder)) summary.second(second);
    writer.end();
    return {
      facts,
      summary: summary.end({ tailFrames, ...counts }),
      tailFrames,
      fileOffsetUs: facts ? matched.fileOffsetUs : null,
      disagreements,
    };
  } catch (error) {
    writer.drop();
    throw error;
  }
}

/** What the source counted, with accepted frames that were lost on their way among those passed over. */
function countsOf({ interrupted, counts }: CloseLedgerInput, lostFrames: number): SourceCounts {
  if (interrupted) return { presented: null, passedOver: null, notReached: null };
  return { ...counts, passedOver: counts.passedOver === null ? null : counts.passedOver + lostFrames };
}

/** The figures of a take of which nothing can be looked at. */
export function emptyReading(dueInAll: number): ReadBackResult {
  const summary = createSummary({ num: 1, den: 1 }, 1).end({
    tailFrames: dueInAll,
    presented: null,
    passedOver: null,
    notReached: null,
  });
  return { facts: null, summary, tailFrames: dueInAll, fileOffsetUs: null, disagreements: [] };
}
