import { existsSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { desc, eq } from 'drizzle-orm';
import { verdictOf, errorText } from '@mellow/core';
import { openLedgerReader, type LedgerReader } from '@mellow/engine';
import { endedStates, partsOf, takeSchema, type BrokenTake, type Removal, type Take } from '@mellow/model';
import type { Store } from '../db/openStore';
import { setups, takes } from '../db/schema';
import type { WorkingService } from '../drives/working';
import { problem } from '../errors/problem';
import type { Journals } from '../files/journals';
import { removeOwnFiles, stateOfFile } from '../files/ownFiles';
import type { AppLog } from '../program/appLog';
import type { Folders } from '../program/folders';
import type { LiveHub } from '../program/liveHub';
import { readableOf } from './takeParts';
import { columnsOf, createTakeRows, type TakeRows } from './takeRows';

export interface TakeService {
  /** Takes that can be read; the others are told by `broken`. */
  list(setupId?: string): Promise<Take[]>;
  /** Rows that cannot be read, with the reason: the rest of the application works. */
  broken(): Promise<BrokenTake[]>;
  get(id: string): Promise<Take>;
  insert(take: Take): Promise<void>;
  /** Changes a take; a verdict is drawn when it has ended. */
  update(id: string, change: Partial<Take> | ((now: Take) => Partial<Take>)): Promise<Take>;
  /** Numbers are never used again, not even those of deleted trials. */
  nextNumber(setupId: string): Promise<number>;
  /** Takes that have not ended, and those that wait for their drive. */
  leftOpen(): Promise<Take[]>;
  /** Deletes a take with all that belongs to it, and says what was removed and what was left. */
  remove(id: string): Promise<Removal>;
  /** Deletes the reserved name of a take that never wrote a byte. */
  giveUpReservation(id: string): Promise<void>;
  /** Deletes the files of a take that is not kept. */
  giveUpFiles(id: string): Promise<void>;
  folder(id: string): string;
  cacheFolder(id: string): string;
  ledger(id: string): Promise<LedgerReader>;
  /** The file's path, where it is still there. */
  file(id: string, part?: number): Promise<string>;
  /** The path by which all of it is read, in one file or in parts. @throws a problem where something of it is away */
  readable(id: string): Promise<string>;
  /** Bytes of takes by drive, copies included. */
  bytesByDrive(): Promise<Map<string, number>>;
  bytesOnDrive(driveId: string): Promise<number>;
}

export interface TakeServices {
  store: Store;
  folders: Pick<Folders, 'takes'>;
  working: Pick<WorkingService, 'copiesFolder' | 'trouble'>;
  live: LiveHub;
  log: AppLog;
  journals: Journals;
}

const idFormat = /^[\w-]{1,40}$/;

/** The services, with rows and folders of takes. */
interface TakeDesk extends TakeServices {
  rows: TakeRows;
  folder(id: string): string;
  cacheFolder(id: string): string;
}

export function createTakeService(services: TakeServices): TakeService {
  const inside = (base: string, id: string): string => {
    if (!idFormat.test(id)) throw problem('not-found', 'There is no such take.');
    return join(base, id);
  };
  const desk: TakeDesk = {
    ...services,
    rows: createTakeRows(services.store),
    folder: (id) => inside(services.folders.takes, id),
    cacheFolder: (id) => inside(services.working.copiesFolder(), id),
  };
  const { rows, folder, cacheFolder } = desk;
  return {
    ...{ list: rows.list, get: rows.get, broken: rows.broken, folder, cacheFolder },
    ledger: (id) => ledgerOf(desk, id),
    insert: (take) => insert(desk, take),
    update: (id, change) => update(desk, id, change),
    nextNumber: (setupId) => nextNumber(desk, setupId),
    async leftOpen() {
      return (
        (await rows.list())
          // Clips are looked after by whoever keeps them.
          .filter((take) => take.kind !== 'clip')
          .filter((take) => !endedStates.includes(take.state) || take.state === 'waiting')
          .reverse()
      );
    },
    remove: (id) => remove(desk, id),
    async giveUpReservation(id) {
      const { files } = await rows.get(id);
      removeOwnFiles(files.filter((file) => stateOfFile(file) === 'same' && statSync(file.path).size === 0));
    },
    async giveUpFiles(id) {
      removeOwnFiles((await rows.get(id)).files);
    },
    async readable(id) {
      try {
        return readableOf(await rows.get(id), folder(id));
      } catch (error) {
        throw problem('file-missing', `${errorText(error)} Figures and ledger are still here.`);
      }
    },
    file: (id, part = 1) => fileOfPart(desk, id, part),
    bytesByDrive: () => bytesByDrive(desk),
    async bytesOnDrive(driveId) {
      return (await bytesByDrive(desk)).get(driveId) ?? 0;
    },
  };
}

async function ledgerOf({ folder }: TakeDesk, id: string): Promise<LedgerReader> {
  try {
    return await openLedgerReader(folder(id));
  } catch (error) {
    throw problem('ledger-unreadable', `${errorText(error)} The file itself was not touched.`);
  }
}

async function insert({ store, live }: TakeDesk, take: Take): Promise<void> {
  const { id, setupId, demo, createdAt } = take;
  await store.write((db) => db.insert(takes).values({ id, setupId, demo, createdAt, ...columnsOf(take) }));
  live.dataChanged();
}

async function update(
  desk: TakeDesk,
  id: string,
  change: Partial<Take> | ((now: Take) => Partial<Take>),
): Promise<Take> {
  const { store, rows, live } = desk;
  // Read and write go through the queue together, so that two changes at once both hold.
  const checked = await store.write(async (db) => {
    const before = await rows.get(id);
    const take: Take = { ...before, ...(typeof change === 'function' ? change(before) : change) };
    if (endedStates.includes(take.state)) take.verdict = verdictOf(take, await lossesOf(desk, take));
    const changed = takeSchema.parse(take);
    await db.update(takes).set(columnsOf(changed)).where(eq(takes.id, id));
    return changed;
  });
  live.dataChanged();
  return checked;
}

/** A verdict needs the ledger's losses; where they cannot be read it is drawn without. */
async function lossesOf({ folder, log }: TakeDesk, take: Take) {
  if (!take.summary) return [];
  try {
    return (await (await openLedgerReader(folder(take.id))).losses()).runs;
  } catch (error) {
    log.add('warn', `Trial ${take.number}: ${errorText(error)}`);
    return [];
  }
}

/** Numbers are never used again, not even those of deleted trials. */
async function nextNumber({ store }: TakeDesk, setupId: string): Promise<number> {
  return store.write(async (db) => {
    const [used] = await db.select({ number: setups.takesNumbered }).from(setups).where(eq(setups.id, setupId));
    const [last] = await db
      .select({ number: takes.number })
      .from(takes)
      .where(eq(takes.setupId, setupId))
      .orderBy(desc(takes.number))
      .limit(1);
    const number = Math.max(used?.number ?? 0, last?.number ?? 0) + 1;
    await db.update(setups).set({ takesNumbered: number }).where(eq(setups.id, setupId));
    return number;
  });
}

async function remove({ store, rows, live, log, working, journals, folder, cacheFolder }: TakeDesk, id: string) {
  const { read: take, number } = await rows.row(id);
  const files = typeof take === 'string' ? [] : take.files;
  if (typeof take !== 'string' && !endedStates.includes(take.state))
    throw problem('recorder-busy', `Trial ${number} is still being made. Stop it first, then it can be deleted.`);
  const journal = journals.open();
  if (files.length) journal.note({ step: 'removing', takeId: id });
  const removal = removeOwnFiles(files);
  // The row goes before the folder: a failure in between leaves a folder, never a take without its ledger.
  await store.write((db) => db.delete(takes).where(eq(takes.id, id)));
  rows.forget(id);
  journal.done();
  rmSync(folder(id), { recursive: true, force: true });
  // What cannot be reached now goes with the next start.
  if (!working.trouble()) rmSync(cacheFolder(id), { recursive: true, force: true });
  live.forget(id);
  live.dataChanged();
  for (const { path, why } of removal.left) log.add('warn', `${path} was left where it is: ${why}.`);
  return removal;
}

async function fileOfPart({ rows }: TakeDesk, id: string, part: number): Promise<string> {
  const take = await rows.get(id);
  const path = partsOf(take)[part - 1]?.path ?? (part === 1 ? take.filePath : '');
  if (!path || !existsSync(path))
    throw problem(
      'file-missing',
      `The file of trial ${take.number} is not at ${path || 'its place'}. It was moved or deleted, or its drive is not plugged in; figures and ledger are still here.`,
    );
  return path;
}

/** Bytes of takes by drive, copies included. */
async function bytesByDrive({ rows }: TakeDesk): Promise<Map<string, number>> {
  const bytes = new Map<string, number>();
  for (const take of await rows.list())
    for (const { path, driveId = take.driveId } of take.files)
      bytes.set(driveId, (bytes.get(driveId) ?? 0) + sizeOf(path));
  return bytes;
}

function sizeOf(path: string): number {
  return statSync(path, { throwIfNoEntry: false })?.size ?? 0;
}
