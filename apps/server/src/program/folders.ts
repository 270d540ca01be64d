import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** Where the application keeps what is its own. */
export interface Folders {
  data: string;
  takes: string;
  cache: string;
  kept: string;
  footage: string;
  demo: string;
  /** What work on files has done so far, for whoever comes after it. */
  journals: string;
  database: string;
}

export function prepareFolders(data: string): Folders {
  const folders: Folders = {
    data,
    takes: join(data, 'takes'),
    cache: join(data, 'cache'),
    kept: join(data, 'kept'),
    footage: join(data, 'footage'),
    demo: join(data, 'demo'),
    journals: join(data, 'journals'),
    database: join(data, 'mellow.db'),
  };
  for (const folder of [folders.takes, folders.cache, folders.kept, folders.footage])
    mkdirSync(folder, { recursive: true });
  return folders;
}
