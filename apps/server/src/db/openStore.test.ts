import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createClient } from '@libsql/client';
import { openStore } from './openStore';

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-store-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const all = join(__dirname, '../../drizzle');
const journalOf = (path: string): { entries: unknown[] } =>
  JSON.parse(readFileSync(join(path, 'meta/_journal.json'), 'utf8')) as { entries: unknown[] };

/** The migrations as an earlier version had them. */
function earlier(count: number): string {
  const path = join(folder, `migrations-${count}`);
  cpSync(all, path, { recursive: true });
  const journal = journalOf(path);
  writeFileSync(
    join(path, 'meta/_journal.json'),
    JSON.stringify({ ...journal, entries: journal.entries.slice(0, count) }),
  );
  return path;
}
const count = journalOf(all).entries.length;

it('opens a database of each earlier version, and copies it before', async () => {
  for (let version = 1; version < count; version++) {
    const file = join(folder, `mellow-${version}.db`);
    await (await openStore(file, earlier(version))).close();
    await (await openStore(file)).close();
    const copy = createClient({ url: `file:${file}.before-${count}` });
    const { rows } = await copy.execute('SELECT count(*) AS count FROM __drizzle_migrations');
    expect(Number(rows[0]?.['count'])).toBe(version);
    copy.close();
  }
});

it('copies nothing that is new, or up to date', async () => {
  const file = join(folder, 'mellow.db');
  await (await openStore(file)).close();
  await (await openStore(file)).close();
  expect(existsSync(`${file}.before-${count}`)).toBe(false);
});
