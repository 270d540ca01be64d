import { causeCode, fateCode, type FrameRate } from '@mellow/model';
import { dueUs, nearestDue } from '../units';
import { concatColumns, createColumns, NEVER, sliceColumns, type LedgerColumns } from './columns';
import { isFiled } from './identities';

/** A picture of the file as its packet tells. */
export interface FilePicture {
  timeUs: number;
  bytes: number;
  key: boolean;
}

/** Packets of the picture track as read back from the file, in the order of the file. */
export interface FilePictures {
  timeUs: readonly number[];
  bytes: readonly number[];
  key: readonly boolean[];
}

/** Pictures of a file come in coding order; none is presented so many frames before one that stands earlier. */
const reorderFrames = 64;
/** Rows that are handed on in one piece. */
const rowsPerPiece = 65_536;

const NEW = fateCode('new');
const REPEAT = fateCode('repeat');
const PENDING = fateCode('pending');
const WRITE_MISS = fateCode('write-miss');

export interface ReconcilerOptions {
  rate: FrameRate;
  /** Rows after the last picture are cut and counted instead of being charged to a station; pictures beyond a cut-off
   * ledger get rows as an imported file would: new or missing, cause unknown. */
  interrupted: boolean;
  /** The live ledger's next rows, in order; null at its end. */
  nextRows(): LedgerColumns | null;
  /** Takes a row when it is final. @param inFile whether the file holds its picture */
  onRow(columns: LedgerColumns, row: number, n: number, inFile: boolean): void;
  /** Takes a piece of final rows; it is the caller's from then on. */
  onPiece(rows: LedgerColumns): void;
  /** Told of what cannot be: two pictures of one due, a picture for which there is no row. */
  onOddity(sentence: string): void;
}

export interface Reconciler {
  picture(picture: FilePicture): void;
  /** @returns rows in all, rows cut after the last picture, what the container added to every time stamp */
  end(): { rows: number; tailFrames: number; fileOffsetUs: number; pictures: number };
}

/**
 * Matches rows and pictures one to one by time stamp, never by order (docs/model.md, "Identities"), while both are read:
 * neither is ever held whole. Fills `bytes` and `key`; a row that was accepted, yet is absent before the last picture,
 * becomes a write miss; a repeat of a picture that was lost on its way is new.
 */
export function createReconciler(options: ReconcilerOptions): Reconciler {
  const { rate } = options;
  const early: FilePicture[] = [];
  const waiting = new Map<number, FilePicture>();
  let offsetUs: number | null = null;
  let lastDue = -1;
  let pictures = 0;
  let next = 0;
  let piece: LedgerColumns | null = null;
  let pieceStart = 0;
  let unknown = false;
  let filedFrame = NEVER;

  /** The piece that holds row n, null where the ledger ends before it. */
  function pieceOf(n: number): LedgerColumns | null {
    while (!piece || n >= pieceStart + piece.length) {
      if (piece) {
        pieceStart += piece.length;
        options.onPiece(piece);
        piece = null;
      }
      const rows: LedgerColumns | null = unknown ? null : options.nextRows();
      if (!rows) return null;
      piece = rows.length ? rows : null;
    }
    return piece;
  }

  /** Rows for pictures whose ledger was lost with the recorder: what is there is new, what is not is missing. */
  function addUnknownRows(n: number): LedgerColumns {
    unknown = true;
    pieceStart = n;
    piece = createColumns(Math.max(1, Math.min(rowsPerPiece, lastDue + 1 - n)));
    for (let i = 0; i < piece.length; i++) {
      piece.dueUs[i] = dueUs(rate, n + i);
      piece.fate[i] = fateCode('missing');
      piece.cause[i] = causeCode('unknown');
    }
    return piece;
  }

  function settle(n: number, pastLast: boolean): boolean {
    const rows = pieceOf(n) ?? (options.interrupted && !pastLast ? addUnknownRows(n) : null);
    if (!rows) return false;
    const row = n - pieceStart;
    const picture = waiting.get(n);
    waiting.delete(n);
    if (picture) {
      rows.bytes[row] = picture.bytes;
      rows.key[row] = picture.key ? 1 : 0;
      if (unknown) rows.fate[row] = NEW;
    } else if (isFiled(rows, row) || rows.fate[row] === PENDING) {
      rows.fate[row] = WRITE_MISS;
      rows.cause[row] = causeCode('not-found');
      rows.written[row] = NEVER;
    }
    if (isFiled(rows, row)) {
      const frame = rows.sourceFrame[row] ?? NEVER;
      if (rows.fate[row] === REPEAT && frame > filedFrame) {
        rows.fate[row] = NEW;
        rows.cause[row] = causeCode('none');
      }
      filedFrame = frame;
    }
    options.onRow(rows, row, n, picture !== undefined);
    return true;
  }

  function place(picture: FilePicture): void {
    const due = nearestDue(rate, picture.timeUs - (offsetUs ?? 0));
    pictures++;
    if (due < next || waiting.has(due)) {
      options.onOddity(`two pictures of the file have the same due, ${due}`);
      return;
    }
    waiting.set(due, picture);
    lastDue = Math.max(lastDue, due);
    while (next <= lastDue - reorderFrames && settle(next, false)) next++;
  }

  function begin(): void {
    const firstUs = early.reduce((least, picture) => Math.min(least, picture.timeUs), Infinity);
    offsetUs = early.length ? offsetOf(firstFiledDue(), rate, firstUs) : 0;
    for (const picture of early.splice(0)) place(picture);
  }

  /** Due time of the first filed row, looked for in the first piece of the ledger. */
  function firstFiledDue(): number | null {
    const rows = pieceOf(0);
    for (let row = 0; rows && row < rows.length; row++) if (isFiled(rows, row)) return rows.dueUs[row] ?? 0;
    return null;
  }

  return {
    picture(picture) {
      if (offsetUs !== null) return place(picture);
      early.push(picture);
      if (early.length >= reorderFrames) begin();
    },
    end() {
      if (offsetUs === null) begin();
      while (next <= lastDue && settle(next, false)) next++;
      const kept = next;
      let tailFrames = 0;
      if (options.interrupted) {
        // What the recorder had accepted after the last picture is gone: it is counted, not charged to a station.
        if (piece && next < pieceStart + piece.length) tailFrames = pieceStart + piece.length - next;
        if (piece) options.onPiece(sliceColumns(piece, 0, next - pieceStart));
        for (let rows = unknown ? null : options.nextRows(); rows; rows = options.nextRows()) tailFrames += rows.length;
      } else {
        while (settle(next, true)) next++;
        if (piece) options.onPiece(piece);
      }
      for (const due of [...waiting.keys()].slice(0, 20))
        options.onOddity(`the file holds a picture for due ${due}, the ledger ends before`);
      return { rows: options.interrupted ? kept : next, tailFrames, fileOffsetUs: offsetUs ?? 0, pictures };
    },
  };
}

export interface Reconciled {
  columns: LedgerColumns;
  filePictures: number[];
  /** Rows cut after the last filed picture of an interrupted take. */
  tailFrames: number;
  fileOffsetUs: number;
}

/** Reconciles a whole ledger with a whole file at once. */
export function reconcile(live: LedgerColumns, rate: FrameRate, file: FilePictures, interrupted: boolean): Reconciled {
  const pieces: LedgerColumns[] = [];
  const queue = [live];
  const reconciler = createReconciler({
    rate,
    interrupted,
    nextRows: () => queue.shift() ?? null,
    onRow: () => {},
    onPiece: (rows) => void pieces.push(rows),
    onOddity: () => {},
  });
  file.timeUs.forEach((timeUs, i) =>
    reconciler.picture({ timeUs, bytes: file.bytes[i] ?? 0, key: file.key[i] ?? false }),
  );
  const { tailFrames, fileOffsetUs } = reconciler.end();
  return {
    columns: concatColumns(pieces),
    filePictures: file.timeUs.map((timeUs) => nearestDue(rate, timeUs - fileOffsetUs)),
    tailFrames,
    fileOffsetUs,
  };
}

export interface LostFrameCounter {
  row(columns: LedgerColumns, row: number): void;
  end(): number;
}

/**
 * Source frames that were accepted, then lost at a later station, and never filed: a lost row does not consume
 * its source frame, so the game's count has them among those passed over. Frames rise, so one that was passed is decided.
 */
export function createLostFrameCounter(): LostFrameCounter {
  const lost = new Set<number>();
  let count = 0;
  let lastFiled = NEVER;
  return {
    row(columns, row) {
      const frame = columns.sourceFrame[row] ?? NEVER;
      if (frame === NEVER) return;
      if (!isFiled(columns, row)) {
        if (frame > lastFiled) lost.add(frame);
        return;
      }
      lastFiled = Math.max(lastFiled, frame);
      lost.delete(frame);
      for (const earlier of lost) {
        if (earlier > frame) continue;
        count++;
        lost.delete(earlier);
      }
    },
    end: () => count + lost.size,
  };
}

/** Source frames of a whole ledger that were accepted, then lost, and never filed. */
export function acceptedThenLost(columns: LedgerColumns): number {
  const counter = createLostFrameCounter();
  for (let row = 0; row < columns.length; row++) counter.row(columns, row);
  return counter.end();
}

/**
 * What the container added to every time stamp: the first picture's time minus the due of the first filed row,
 * where that is less than 100 ms (a codec's priming); otherwise the file begins later and nothing was added.
 */
function offsetOf(firstDueUs: number | null, rate: FrameRate, firstUs: number): number {
  if (firstDueUs === null) return 0;
  const offset = firstUs - firstDueUs;
  const half = (rate.den * 500_000) / rate.num;
  if (offset > half && offset < 100_000) return offset;
  return Math.abs(offset) <= half && Math.abs(offset) > 1000 ? offset : 0;
}
