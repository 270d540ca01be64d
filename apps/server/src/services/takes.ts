import { existsSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { desc, eq } from 'drizzle-orm';
import { verdictOf, errorText } from '@mellow/core';
import { openLedgerReader, type LedgerReader } from '@mellow/engine';
import { endedStates, partsOf, takeSchema, type BrokenTake, type Removal, type Take } from '@mellow/model';
import type { Store } from '../db/openStore';
import { setups, takes } from '../db/schema';
import { problem } from '../http/problem';
import type { AppLog } from './appLog';
import type { Folders } from './folders';
import type { Journals } from './journals';
import type { LiveHub } from './liveHub';
import type { WorkingService } from './working';
import { removeOwnFiles, stateOfFile } from './ownFiles';
import { readableOf } from './takeParts';

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

const idFormat = /^[\w-]{1,40}$/;

/** @returns why it cannot be read, where it cannot */
function parseTake(document: string): Take | string {
  try {
    return takeSchema.parse(JSON.parse(document));
  } catch (error) {
    return error instanceof SyntaxError ? 'its row is no JSON' : 'its row does not fit this version';
  }
}

export interface TakeServices {
  store: Store;
  folders: Pick<Folders, 'takes'>;
  working: Pick<WorkingService, 'copiesFolder' | 'trouble'>;
  live: LiveHub;
  log: AppLog;
  journals: Journals;
}

export function createTakeService({ store, folders, working, live, log, journals }: TakeServices): TakeService {
  type Row = typeof takes.$inferSelect;
  const inside = (base: string, id: string): string => {
    if (!idFormat.test(id)) throw problem('not-found', 'There is no such take.');
    return join(base, id);
  };
  const folder = (id: string): string => inside(folders.takes, id);
  const cacheFolder = (id: string): string => inside(working.copiesFolder(), id);
  /** Parsing is nearly all that a list of thousands costs: what stands in a row as it did is not parsed again. */
  const parsed = new Map<string, { document: string; take: Take | string }>();
  const read = ({ id, document }: Row): Take | string => {
    const known = parsed.get(id);
    if (known?.document === document) return known.take;
    const take = parseTake(document);
    parsed.set(id, { document, take });
    return take;
  };
  const unreadable = (row: Row, why: string) =>
    problem(
      'take-unreadable',
      `Trial ${row.number} cannot be read: ${why}. Its files were not touched; deleting it removes the row only.`,
    );
  const rowOf = async (id: string): Promise<Row> => {
    const row = (await store.db.select().from(takes).where(eq(takes.id, id)))[0];
    if (!row)
      throw problem(
        'not-found',
        `There is no take "${id}". It may have been deleted; the list of takes shows those there are.`,
      );
    return row;
  };
  const get = async (id: string): Promise<Take> => {
    const row = await rowOf(id);
    const take = read(row);
    if (typeof take === 'string') throw unreadable(row, take);
    return take;
  };
  const rows = (setupId?: string): Promise<Row[]> => {
    const query = store.db.select().from(takes);
    return setupId === undefined
      ? query.orderBy(desc(takes.createdAt))
      : query.where(eq(takes.setupId, setupId)).orderBy(desc(takes.createdAt));
  };
  const list = async (setupId?: string): Promise<Take[]> =>
    (await rows(setupId)).map(read).filter((take): take is Take => typeof take !== 'string');
  const ledger = async (id: string): Promise<LedgerReader> => {
    try {
      return await openLedgerReader(folder(id));
    } catch (error) {
      throw problem('ledger-unreadable', `${errorText(error)} The file itself was not touched.`);
    }
  };
  const columnsOf = (take: Take) => ({ number: take.number, state: take.state, document: JSON.stringify(take) });
  /** A verdict needs the ledger's losses; where they cannot be read it is drawn without. */
  const lossesOf = async (take: Take) => {
    if (!take.summary) return [];
    try {
      return (await (await openLedgerReader(folder(take.id))).losses()).runs;
    } catch (error) {
      log.add('warn', `Trial ${take.number}: ${errorText(error)}`);
      return [];
    }
  };
  const bytesByDrive = async (): Promise<Map<string, number>> => {
    const bytes = new Map<string, number>();
    for (const take of await list())
      for (const { path, driveId = take.driveId } of take.files)
        bytes.set(driveId, (bytes.get(driveId) ?? 0) + sizeOf(path));
    return bytes;
  };
  return {
    list,
    get,
    folder,
    cacheFolder,
    ledger,
    bytesByDrive,
    async broken() {
      return (await rows()).flatMap((row) => {
        const take = read(row);
        if (typeof take !== 'string') return [];
        return [{ id: row.id, setupId: row.setupId, number: row.number, createdAt: row.createdAt, why: take }];
      });
    },
    async insert(take) {
      const { id, setupId, demo, createdAt } = take;
      await store.write((db) => db.insert(takes).values({ id, setupId, demo, createdAt, ...columnsOf(take) }));
      live.dataChanged();
    },
    async update(id, change) {
      // Read and write go through the queue together, so that two changes at once both hold.
      const checked = await store.write(async (db) => {
        const before = await get(id);
        const take: Take = { ...before, ...(typeof change === 'function' ? change(before) : change) };
        if (endedStates.includes(take.state)) take.verdict = verdictOf(take, await lossesOf(take));
        const changed = takeSchema.parse(take);
        await db.update(takes).set(columnsOf(changed)).where(eq(takes.id, id));
        return changed;
      });
      live.dataChanged();
      return checked;
    },
    async nextNumber(setupId) {
      return store.write(async (db) => {
        const used = (await db.select({ number: setups.takesNumbered }).from(setups).where(eq(setups.id, setupId)))[0];
        const last = (
          await db
            .select({ number: takes.number })
            .from(takes)
            .where(eq(takes.setupId, setupId))
            .orderBy(desc(takes.number))
            .limit(1)
        )[0];
        const number = Math.max(used?.number ?? 0, last?.number ?? 0) + 1;
        await db.update(setups).set({ takesNumbered: number }).where(eq(setups.id, setupId));
        return number;
      });
    },
    async leftOpen() {
      return (await list()).filter((take) => !endedStates.includes(take.state) || take.state === 'waiting').reverse();
    },
    async remove(id) {
      const row = await rowOf(id);
      const take = read(row);
      const files = typeof take === 'string' ? [] : take.files;
      if (typeof take !== 'string' && !endedStates.includes(take.state))
        throw problem(
          'recorder-busy',
          `Trial ${take.number} is still being made. Stop it first, then it can be deleted.`,
        );
      const journal = journals.open();
      if (files.length) journal.note({ step: 'removing', takeId: id });
      const removal = removeOwnFiles(files);
      // The row goes before the folder: a failure in between leaves a folder, never a take without its ledger.
      await store.write((db) => db.delete(takes).where(eq(takes.id, id)));
      parsed.delete(id);
      journal.done();
      rmSync(folder(id), { recursive: true, force: true });
      // What cannot be reached now goes with the next start.
      if (!working.trouble()) rmSync(cacheFolder(id), { recursive: true, force: true });
      live.forget(id);
      live.dataChanged();
      for (const { path, why } of removal.left) log.add('warn', `${path} was left where it is: ${why}.`);
      return removal;
    },
    async giveUpReservation(id) {
      const { files } = await get(id);
      removeOwnFiles(files.filter((file) => stateOfFile(file) === 'same' && statSync(file.path).size === 0));
    },
    async giveUpFiles(id) {
      removeOwnFiles((await get(id)).files);
    },
    async readable(id) {
      try {
        return readableOf(await get(id), folder(id));
      } catch (error) {
        throw problem('file-missing', `${errorText(error)} Figures and ledger are still here.`);
      }
    },
    async file(id, part = 1) {
      const take = await get(id);
      const path = partsOf(take)[part - 1]?.path ?? (part === 1 ? take.filePath : '');
      if (!path || !existsSync(path))
        throw problem(
          'file-missing',
          `The file of trial ${take.number} is not at ${path || 'its place'}. It was moved or deleted, or its drive is not plugged in; figures and ledger are still here.`,
        );
      return path;
    },
    async bytesOnDrive(driveId) {
      return (await bytesByDrive()).get(driveId) ?? 0;
    },
  };
}

function sizeOf(path: string): number {
  return statSync(path, { throwIfNoEntry: false })?.size ?? 0;
}
