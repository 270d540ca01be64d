import { existsSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { desc, eq } from 'drizzle-orm';
import { lossRuns, verdictOf, type LedgerColumns } from '@mellow/core';
import { readLedgerColumns } from '@mellow/engine';
import { endedStates, takeSchema, type Take } from '@mellow/model';
import type { Store } from '../db/openStore';
import { takes } from '../db/schema';
import { problem } from '../http/problem';
import type { Folders } from './folders';
import type { LiveHub } from './liveHub';

export interface TakeService {
  list(setupId?: string): Promise<Take[]>;
  get(id: string): Promise<Take>;
  insert(take: Take): Promise<void>;
  /** Changes a take; a verdict is drawn when it has ended. */
  update(id: string, change: Partial<Take>): Promise<Take>;
  nextNumber(setupId: string): Promise<number>;
  remove(id: string): Promise<void>;
  folder(id: string): string;
  ledger(id: string): LedgerColumns;
  /** The file's path, where it is still there. */
  file(id: string): Promise<string>;
  bytesOnDrive(driveId: string): Promise<number>;
}

/** Ledgers of the takes looked at last stay in memory. */
const ledgersKept = 4;

export function createTakeService(store: Store, folders: Folders, live: LiveHub): TakeService {
  const cache = new Map<string, LedgerColumns>();
  const folder = (id: string): string => join(folders.takes, id);
  const parse = (row: typeof takes.$inferSelect): Take => takeSchema.parse(JSON.parse(row.document));
  const get = async (id: string): Promise<Take> => {
    const row = (await store.db.select().from(takes).where(eq(takes.id, id)))[0];
    if (!row)
      throw problem(
        'not-found',
        `There is no take "${id}". It may have been deleted; the list of takes shows those there are.`,
      );
    return parse(row);
  };
  const list = async (setupId?: string): Promise<Take[]> => {
    const query = store.db.select().from(takes);
    const rows =
      setupId === undefined
        ? await query.orderBy(desc(takes.createdAt))
        : await query.where(eq(takes.setupId, setupId)).orderBy(desc(takes.createdAt));
    return rows.map(parse);
  };
  const ledger = (id: string): LedgerColumns => {
    const known = cache.get(id);
    if (known) return known;
    const columns = readLedgerColumns(folder(id));
    if (existsSync(join(folder(id), 'ledger.arrow'))) {
      cache.set(id, columns);
      for (const oldest of cache.keys()) if (cache.size > ledgersKept) cache.delete(oldest);
    }
    return columns;
  };
  const columnsOf = (take: Take) => ({ number: take.number, state: take.state, document: JSON.stringify(take) });
  return {
    list,
    get,
    folder,
    ledger,
    async insert(take) {
      await store.write((db) =>
        db.insert(takes).values({
          id: take.id,
          setupId: take.setupId,
          demo: take.demo,
          createdAt: take.createdAt,
          ...columnsOf(take),
        }),
      );
      live.dataChanged();
    },
    async update(id, change) {
      const take: Take = { ...(await get(id)), ...change };
      if (endedStates.includes(take.state)) {
        cache.delete(id);
        take.verdict = verdictOf(take, take.summary ? lossRuns(ledger(id)) : []);
      }
      const checked = takeSchema.parse(take);
      await store.write((db) => db.update(takes).set(columnsOf(checked)).where(eq(takes.id, id)));
      live.dataChanged();
      return checked;
    },
    async nextNumber(setupId) {
      const last = (
        await store.db
          .select({ number: takes.number })
          .from(takes)
          .where(eq(takes.setupId, setupId))
          .orderBy(desc(takes.number))
          .limit(1)
      )[0];
      return (last?.number ?? 0) + 1;
    },
    async remove(id) {
      const take = await get(id);
      if (!endedStates.includes(take.state))
        throw problem(
          'recorder-busy',
          `Trial ${take.number} is still being made. Stop it first, then it can be deleted.`,
        );
      if (take.filePath) rmSync(take.filePath, { force: true });
      rmSync(folder(id), { recursive: true, force: true });
      cache.delete(id);
      await store.write((db) => db.delete(takes).where(eq(takes.id, id)));
      live.dataChanged();
    },
    async file(id) {
      const take = await get(id);
      if (!take.filePath || !existsSync(take.filePath)) {
        throw problem(
          'file-missing',
          `The file of trial ${take.number} is not at ${take.filePath || 'its place'}. It was moved or deleted, or its drive is not plugged in; figures and ledger are still here.`,
        );
      }
      return take.filePath;
    },
    async bytesOnDrive(driveId) {
      return (await list())
        .filter((take) => take.driveId === driveId)
        .reduce((sum, take) => sum + sizeOf(take.filePath), 0);
    },
  };
}

const sizeOf = (path: string): number => (path && existsSync(path) ? statSync(path).size : 0);
