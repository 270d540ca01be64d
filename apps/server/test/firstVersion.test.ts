import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createClient } from '@libsql/client';
import request from 'supertest';
import { setupListSchema, takeListSchema } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

/**
 * A data folder of the first landed version (b5d6a96), as it made it: a trial that was closed, and one that was killed with its server and
 * its recorder after three seconds. Its paths begin with /first-version; everything else is as it was.
 */
let folder: string;
let server: TestServer;
const footage = (): string => join(folder, 'footage', 'Oldest');
const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
let before: Map<string, string>;

beforeAll(async () => {
  const base = mkdtempSync(join(tmpdir(), 'mellow-first-'));
  folder = join(base, 'first');
  execFileSync('tar', ['-xzf', join(__dirname, 'fixtures/first-version.tar.gz'), '-C', base]);
  const client = createClient({ url: pathToFileURL(join(folder, 'mellow.db')).href });
  for (const [table, column] of [
    ['drives', 'folder'],
    ['takes', 'document'],
  ])
    await client.execute({
      sql: `UPDATE ${table} SET ${column} = replace(${column}, '/first-version', ?)`,
      args: [folder],
    });
  client.close();
  for (const take of readdirSync(join(folder, 'takes')))
    for (const name of ['header.json', 'result.json']) {
      const path = join(folder, 'takes', take, name);
      if (existsSync(path)) writeFileSync(path, readFileSync(path, 'utf8').replaceAll('/first-version', folder));
    }
  before = new Map(readdirSync(footage()).map((name) => [name, hashOf(join(footage(), name))]));
  server = await openTestServer({ dataFolder: folder });
  await (
    await server.services.recorder.recoverOrphans()
  ).whole;
}, 60_000);
afterAll(async () => {
  await server.close();
  rmSync(join(folder, '..'), { recursive: true, force: true });
});

it('opens: its setup and its takes are there, and the database was copied before it was brought up to date', async () => {
  const api = request(server.url);
  const [setup] = setupListSchema.parse((await api.get('/api/setups')).body);
  expect(setup).toMatchObject({ name: 'Oldest', versions: [{ number: 1 }] });
  const [killed, closed] = takeListSchema.parse((await api.get('/api/takes')).body);
  expect((await api.get('/api/broken-takes')).body).toEqual([]);
  expect(closed).toMatchObject({ number: 1, state: 'closed', summary: { due: 120 } });
  expect(closed?.verdict?.sentence.length).toBeGreaterThan(0);
  // A rescue is what there is of it, in the frames that its ledger knows.
  expect(killed).toMatchObject({ number: 2, state: 'rescued' });
  expect(killed?.facts?.picture.packets).toBe(killed?.summary?.filed);
  expect(killed?.facts?.picture.packets).toBeGreaterThan(60);
  const ledger = await api.get(`/api/takes/${closed?.id}/ledger?from=0&to=120`);
  expect((ledger.body as { dueUs: number[] }).dueUs).toHaveLength(120);
  expect(readdirSync(folder).filter((name) => name.startsWith('mellow.db.before-'))).toHaveLength(1);
});

it('keeps every file that was closed as it was', async () => {
  const [, closed] = await server.services.takes.list();
  expect(closed?.filePath.startsWith(footage())).toBe(true);
  const name = closed!.filePath.slice(footage().length + 1);
  expect(hashOf(closed!.filePath)).toBe(before.get(name));
});

it('goes on: a trial of its setup is made, and its old takes are deleted with their files', async () => {
  const { setups, takes, recorder } = server.services;
  const [setup] = await setups.list();
  const next = await server.untilEnded((await recorder.startTrial(setup!.id, 1)).id);
  expect(next).toMatchObject({ number: 3, state: 'closed' });
  for (const take of (await takes.list()).filter(({ id }) => id !== next.id)) {
    const { removed, left } = await takes.remove(take.id);
    expect(left).toEqual([]);
    expect(removed).toContain(take.filePath);
    expect(existsSync(take.filePath)).toBe(false);
  }
  expect(existsSync(next.filePath)).toBe(true);
}, 60_000);
