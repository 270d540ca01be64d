import { fileURLToPath, pathToFileURL } from 'node:url';
import { createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import PQueue from 'p-queue';
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

/** Opens the database file and brings it up to date with the generated migrations. */
export async function openStore(file: string): Promise<Store> {
  const client = createClient({ url: pathToFileURL(file).href, timeout: busyPatienceMs });
  await client.execute('PRAGMA journal_mode = WAL');
  await client.execute('PRAGMA foreign_keys = ON');
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: fileURLToPath(new URL('../../drizzle', import.meta.url)) });
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
