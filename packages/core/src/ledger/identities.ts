import { causeCode, fateCode, timeColumns } from '@mellow/model';
import { NEVER, type LedgerColumns } from './columns';

const NEW = fateCode('new');
const REPEAT = fateCode('repeat');
const PENDING = fateCode('pending');
const UNKNOWN = causeCode('unknown');
const NOT_FOUND = causeCode('not-found');

export const isFiled = (columns: LedgerColumns, row: number): boolean =>
  columns.fate[row] === NEW || columns.fate[row] === REPEAT || columns.filled[row] === 1;

/** What the source counted; null where nobody did. */
export interface SourceCounts {
  presented: number | null;
  passedOver: number | null;
  notReached: number | null;
}

export interface IdentityContext extends SourceCounts {
  /** Due indices found in the file. */
  filePictures: readonly number[];
}

/** So many sentences are kept; more would say the same. */
const sentencesKept = 50;

export interface IdentityCheck {
  /** Looks at row `row` of a piece, which is due `n`. */
  row(columns: LedgerColumns, row: number, n: number, inFile: boolean): void;
  say(sentence: string): void;
  /** Everything broken, one sentence each. @param filePictures how many pictures the file holds */
  end(filePictures: number, counts: SourceCounts): string[];
}

/** Checks the identities of a closed ledger (docs/model.md, "Identities") row by row. */
export function createIdentityCheck(): IdentityCheck {
  const broken: string[] = [];
  const say = (sentence: string): void => void (broken.length < sentencesKept && broken.push(sentence));
  let filed = 0;
  let news = 0;
  let lastFrame = NEVER;
  const order = (columns: LedgerColumns, row: number, n: number): void => {
    let before = NEVER;
    for (const name of timeColumns) {
      const time = columns[name][row] ?? NEVER;
      if (time === NEVER) say(`row ${n} is filed and has no time "${name}"`);
      else if (time < before) say(`row ${n}: "${name}" comes before the station ahead of it`);
      before = Math.max(before, time);
    }
  };
  return {
    say,
    row(columns, row, n, inFile) {
      if (columns.fate[row] === PENDING) say(`row ${n} is still pending`);
      const filedHere = isFiled(columns, row);
      if (filedHere !== inFile) say(`row ${n} is ${filedHere ? '' : 'not '}filed, the file says otherwise`);
      const frame = columns.sourceFrame[row] ?? NEVER;
      if (filedHere) filed++;
      // Of these only the picture is known, not its way.
      if (columns.cause[row] === UNKNOWN) return;
      if (columns.fate[row] === NEW) {
        news++;
        if (lastFrame !== NEVER && frame <= lastFrame)
          say(`row ${n}: source frame ${frame} does not rise above ${lastFrame}`);
        lastFrame = frame;
      } else if (columns.fate[row] === REPEAT && frame !== lastFrame) {
        say(`row ${n}: a repeat of ${frame}, but ${lastFrame} was filed before`);
      }
      if (filedHere) order(columns, row, n);
      else if ((columns.written[row] ?? NEVER) !== NEVER && columns.cause[row] !== NOT_FOUND)
        say(`row ${n} is lost and yet has a time of writing`);
    },
    end(filePictures, { presented, passedOver, notReached }) {
      if (filed !== filePictures) say(`${filed} rows are filed, the file holds ${filePictures} pictures`);
      if (presented !== null && passedOver !== null && notReached !== null) {
        const sum = news + passedOver + notReached;
        if (sum !== presented) say(`the game presented ${presented} frames, ${sum} are accounted for`);
      }
      return broken;
    },
  };
}

/** Checks the identities of a whole ledger at once. Returns one sentence for each that is broken. */
export function brokenIdentities(columns: LedgerColumns, context: IdentityContext): string[] {
  const check = createIdentityCheck();
  const inFile = new Set(context.filePictures);
  if (inFile.size !== context.filePictures.length) check.say('two pictures of the file have the same due');
  for (let n = 0; n < columns.length; n++) check.row(columns, n, n, inFile.has(n));
  return check.end(context.filePictures.length, context);
}
