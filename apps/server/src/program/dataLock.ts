import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createClient } from '@libsql/client';
import { errorCode, errorText } from '@mellow/core';

/** Held: the way to let it go. Otherwise the sentence to tell. */
export type DataLock = { release: () => void } | { sentence: string };

/**
 * Holds a data folder for one server: by SQLite's own lock on a database that nothing is stored in, which the system takes away
 * from a process that ends, however it ends. Who holds it stands in a file beside it, for the sentence only.
 */
export async function lockDataFolder(folder: string): Promise<DataLock> {
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    return {
      sentence: `The data folder ${folder} cannot be made (${errorCode(error) ?? 'unknown reason'}). Choose another with MELLOW_DATA.`,
    };
  }
  const owner = join(folder, 'lock');
  try {
    const client = createClient({ url: pathToFileURL(join(folder, 'lock.db')).href, timeout: 0 });
    const held = await client.transaction('write');
    writeFileSync(owner, JSON.stringify({ pid: process.pid }));
    return {
      release() {
        rmSync(owner, { force: true });
        held.close();
        client.close();
      },
    };
  } catch (error) {
    if (errorCode(error) === 'SQLITE_BUSY')
      return {
        sentence: `Mellow Frame already runs on this data folder (process ${pidIn(owner)}). Use the page it serves, or stop it first.`,
      };
    return {
      sentence: `The data folder ${folder} cannot be written to (${errorText(error)}). Choose another with MELLOW_DATA.`,
    };
  }
}

function pidIn(file: string): string {
  try {
    const { pid } = JSON.parse(readFileSync(file, 'utf8')) as { pid?: unknown };
    return String(pid ?? 'unknown');
  } catch {
    return 'unknown';
  }
}
