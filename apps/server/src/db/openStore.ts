import { fileURLToPath, pathToFileURL } from 'node:url';
import { copyFileSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createClient, type Client } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import PQueue from 'p-queue';
import { z } from 'zod';
import * as schema from './schema';

export type Database = LibSQLDatabase<typeof schema>;

export interface Store {
  db: Database;
  /** All writes go one after another: an open transaction beside another write fails with this driver. */
  write<T>(work: (db: Database) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** Another program may look into the database: it is waited for so long. */
const busyPatienceMs = 5000;

const ownMigrations = fileURLToPath(new URL('../../drizzle', import.meta.url));
const journalSchema = z.object({ entries: z.array(z.unknown()) });

/** A database of an earlier version is copied before anything of it is changed. @returns the copy's path; null where none was made */
async function copyBeforeUpgrade(client: Client, file: string, migrations: string): Promise<string | null> {
  const known = await client.execute("SELECT name FROM sqlite_master WHERE name = '__drizzle_migrations'");
  if (!known.rows.length) return null;
  const { rows } = await client.execute('SELECT count(*) AS count FROM __drizzle_migrations');
  const done = Number(rows[0]?.['count'] ?? 0);
  const { entries } = journalSchema.parse(JSON.parse(readFileSync(join(migrations, 'meta/_journal.json'), 'utf8')));
  if (done === 0 || done >= entries.length) return null;
  await client.execute('PRAGMA wal_checkpoint(TRUNCATE)');
  const copy = `${file}.before-${entries.length}`;
  copyFileSync(file, copy);
  return copy;
}

/**
 * Opens the database file and brings it up to date with the generated migrations.
 * @param migrations where they lie; others in tests
 */
export async function openStore(file: string, migrations: string = ownMigrations): Promise<Store> {
  const client = createClient({ url: pathToFileURL(file).href, timeout: busyPatienceMs });
  await client.execute('PRAGMA journal_mode = WAL');
  await client.execute('PRAGMA foreign_keys = ON');
  const db = drizzle(client, { schema });
  await copyBeforeUpgrade(client, file, migrations);
  await migrate(db, { migrationsFolder: migrations });
  await client.execute('PRAGMA foreign_keys = ON');
  const queue = new PQueue({ concurrency: 1 });
  return {
    db,
    write: (work) => queue.add(() => work(db)) as Promise<Awaited<ReturnType<typeof work>>>,
    async close() {
      await queue.onIdle();
      // Everything into the one file, so that it can be copied as it lies there.
      await client.execute('PRAGMA wal_checkpoint(TRUNCATE)').catch(() => {});
      client.close();
    },
  };
}
