import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileIdentitySchema, type TakeOrder } from '@mellow/model';
import { z } from 'zod';
import { temporaryBeside, writeDurably } from './durable';
import { removeOwn, reserveFile, type Reservation } from './reserve';

/** Folder of a recording that only serves the play cost, in the take's own folder, and the note of its file there. */
const pairFolder = 'pair';
const pairFileName = 'pair-file.json';
const pairFileSchema = z.object({ path: z.string(), identity: fileIdentitySchema });

/** Reserves a file beside the take's for a recording that is thrown away, and notes it, in case the recorder dies. */
export function reservePair(order: Pick<TakeOrder, 'ledgerFolder' | 'filePath'>): {
  folder: string;
  reserved: Reservation;
} {
  const folder = join(order.ledgerFolder, pairFolder);
  mkdirSync(folder, { recursive: true });
  const reserved = reserveFile(temporaryBeside(order.filePath));
  writeDurably(join(folder, pairFileName), JSON.stringify(reserved));
  return { folder, reserved };
}

/** Removes such a recording, its folder and its note; a file that is another one by now stays. */
export function discardPair(ledgerFolder: string): void {
  const folder = join(ledgerFolder, pairFolder);
  const path = join(folder, pairFileName);
  if (existsSync(path)) {
    const parsed = pairFileSchema.safeParse(readJson(path));
    if (parsed.success) removeOwn(parsed.data);
  }
  rmSync(folder, { recursive: true, force: true });
}

function readJson(path: string): unknown {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    return null;
  }
}
