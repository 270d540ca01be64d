import { causeCode, fateCode, timeColumns } from '@mellow/model';
import { NEVER, type LedgerColumns } from './columns';

const NEW = fateCode('new');
const REPEAT = fateCode('repeat');

export const isFiled = (columns: LedgerColumns, row: number): boolean =>
  columns.fate[row] === NEW || columns.fate[row] === REPEAT || columns.filled[row] === 1;

export interface IdentityContext {
  /** Due indices found in the file. */
  filePictures: readonly number[];
  presented: number | null;
  passedOver: number | null;
  notReached: number | null;
}

/**
 * Checks the identities of a closed ledger (docs/model.md). Returns one sentence for each that is broken.
 */
export function brokenIdentities(columns: LedgerColumns, context: IdentityContext): string[] {
  const broken: string[] = [];
  const inFile = new Set(context.filePictures);
  if (inFile.size !== context.filePictures.length) broken.push('two pictures of the file have the same due');
  let filed = 0;
  let news = 0;
  let lastFrame = NEVER;
  for (let n = 0; n < columns.length; n++) {
    if (columns.fate[n] === fateCode('pending')) broken.push(`row ${n} is still pending`);
    const filedHere = isFiled(columns, n);
    if (filedHere !== inFile.has(n))
      broken.push(`row ${n} is ${filedHere ? '' : 'not '}filed, the file says otherwise`);
    const frame = columns.sourceFrame[n] ?? NEVER;
    if (filedHere) filed++;
    // Of these only the picture is known, not its way.
    if (columns.cause[n] === causeCode('unknown')) continue;
    if (columns.fate[n] === NEW) {
      news++;
      if (lastFrame !== NEVER && frame <= lastFrame)
        broken.push(`row ${n}: source frame ${frame} does not rise above ${lastFrame}`);
      lastFrame = frame;
    } else if (columns.fate[n] === REPEAT && frame !== lastFrame) {
      broken.push(`row ${n}: a repeat of ${frame}, but ${lastFrame} was filed before`);
    }
    if (filedHere) {
      let before = NEVER;
      for (const name of timeColumns) {
        const time = columns[name][n] ?? NEVER;
        if (time === NEVER) broken.push(`row ${n} is filed and has no time "${name}"`);
        else if (time < before) broken.push(`row ${n}: "${name}" comes before the station ahead of it`);
        before = Math.max(before, time);
      }
    } else if ((columns.written[n] ?? NEVER) !== NEVER && columns.cause[n] !== causeCode('not-found')) {
      broken.push(`row ${n} is lost and yet has a time of writing`);
    }
  }
  if (filed !== context.filePictures.length)
    broken.push(`${filed} rows are filed, the file holds ${context.filePictures.length} pictures`);
  if (context.presented !== null && context.passedOver !== null && context.notReached !== null) {
    const sum = news + context.passedOver + context.notReached;
    if (sum !== context.presented)
      broken.push(`the game presented ${context.presented} frames, ${sum} are accounted for`);
  }
  return broken;
}
