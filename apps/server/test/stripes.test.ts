import { existsSync, mkdtempSync, renameSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { plainPracticeGame, startRecipe } from '@mellow/core';
import { partsOf, takeSchema, type Recipe, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
let base: string;
let others: string[];
beforeAll(async () => {
  server = await openTestServer({ hangMs: 2000 });
  base = mkdtempSync(join(tmpdir(), "mellow's stripes "));
  others = [];
  for (const name of ['second', 'third'])
    others.push(
      (await server.services.drives.add({ name, folder: join(base, name), quotaBytes: null, make: true })).id,
    );
});
afterAll(async () => {
  await server.close();
  rmSync(base, { recursive: true, force: true });
});

const plainEncode = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd').encode;
const api = () => request(server.url);
const striped =
  (change: Partial<Recipe> = {}) =>
  (draft: Recipe): Recipe => ({
    ...draft,
    nextDriveIds: others,
    parts: { by: 'striped', shares: 'equal' },
    encode: { ...draft.encode, quality: 8 },
    ...change,
  });
async function trial(setupId: string, lengthS = 4): Promise<Take> {
  const { body, status } = await api().post(`/api/setups/${setupId}/trials`).send({ lengthS });
  expect(status).toBe(201);
  return server.untilEnded(takeSchema.parse(body).id);
}

it.each(['matroska', 'fragmented-mp4'] as const)(
  'a trial over three folders in %s is read, looked at, played, built and deleted as one',
  async (container) => {
    const setup = await server.smallSetup(striped({ container }));
    const take = await trial(setup.id);
    expect(take).toMatchObject({ state: 'closed', end: 'length', tailFrames: 0, stripes: { pattern: [0, 1, 2] } });
    const stripes = partsOf(take);
    expect(stripes.map(({ driveId }) => driveId)).toEqual([undefined, ...others]);
    expect(stripes.map(({ path, bytes }) => statSync(path).size === bytes)).toEqual([true, true, true]);
    expect(take.facts?.bytes).toBe(stripes.reduce((sum, { bytes }) => sum + (bytes ?? 0), 0));
    expect(take.summary?.filed).toBe(take.facts?.picture.packets);
    expect(take.likeness?.pictures).toBeGreaterThan(4);
    expect(take.verdict?.facts.find(({ name }) => name === 'File')).toMatchObject({ holds: true });
    expect((await api().get(`/api/takes/${take.id}/media?lane=0`)).status).toBe(200);
    expect((await api().get(`/api/takes/${take.id}/still`)).status).toBe(200);
    const suffix = container === 'matroska' ? '.mkv' : '.mp4';
    const built = takeSchema.parse((await api().post(`/api/takes/${take.id}/rewrap`).send({ into: 'as-is' })).body);
    const copy = built.files.findLast(({ role }) => role === 'copy');
    expect(copy?.path).toBe(take.filePath.replace(` stripe 1${suffix}`, suffix));
    expect(copy?.bytes).toBe(take.facts?.bytes);
    expect((await api().post(`/api/takes/${take.id}/rewrap`).send({ into: 'mp4' })).status).toBe(200);
    const removed = (await api().delete(`/api/takes/${take.id}`)).body as { removed: string[]; left: string[] };
    expect(removed).toMatchObject({ left: [] });
    expect(removed.removed).toHaveLength(5);
    expect(stripes.some(({ path }) => existsSync(path))).toBe(false);
  },
  120_000,
);

it('a recorder that dies leaves what had reached all folders, and nothing kept back', async () => {
  const setup = await server.smallSetup(striped());
  const begun = takeSchema.parse((await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 60 })).body);
  await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 5e6);
  const heardUs = server.services.live.state().take?.elapsedUs ?? 0;
  process.kill(server.services.recorder.enginePid()!, 'SIGKILL');
  const take = await server.untilEnded(begun.id);
  expect(take.state).toBe('rescued');
  // A flush a second, by writers that do not wait for one another.
  expect(take.facts?.picture.endUs ?? 0).toBeGreaterThan(heardUs - 3.2e6);
  expect(take.summary?.filed).toBe(take.facts?.picture.packets);
  for (const drive of await server.services.drives.list(() => 0))
    expect(existsSync(join(drive.folder, `.room-${take.id}`))).toBe(false);
  expect((await api().get(`/api/takes/${take.id}/media?lane=0`)).status).toBe(200);
}, 120_000);

it('a stripe that is away is said by its place, and the take is whole again when it is back', async () => {
  const setup = await server.smallSetup(striped());
  const take = await trial(setup.id, 2);
  const [, second] = partsOf(take);
  renameSync(second!.path, `${second!.path} elsewhere`);
  const refused = await api().post(`/api/takes/${take.id}/rewrap`).send({ into: 'as-is' });
  expect(refused.status).toBe(410);
  expect(refused.text).toContain('stripe');
  renameSync(`${second!.path} elsewhere`, second!.path);
  expect((await api().post(`/api/takes/${take.id}/rewrap`).send({ into: 'as-is' })).status).toBe(200);
}, 120_000);

it('does not begin where one of its folders has no room left, and says which', async () => {
  const { id } = await server.services.drives.add({
    ...{ name: 'Thimble', folder: join(base, 'thimble'), make: true },
    quotaBytes: 1_500_000,
  });
  const setup = await server.smallSetup(striped({ nextDriveIds: [id], encode: { ...plainEncode, quality: 4 } }));
  const take = await trial(setup.id, 20);
  expect(take.end).toBe('drive-full');
  expect(take.facts?.bytes).toBeLessThan(4.3e6);
  const refused = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
  expect([refused.status, refused.text]).toEqual([409, expect.stringContaining('Thimble is full')]);
}, 120_000);

it('is one file where no other folder can be used, and refuses what cannot be striped in words', async () => {
  const gone = join(base, 'gone');
  const { id } = await server.services.drives.add({ name: 'gone', folder: gone, quotaBytes: null, make: true });
  rmSync(gone, { recursive: true });
  const setup = await server.smallSetup(striped({ nextDriveIds: [id] }));
  const take = await trial(setup.id, 2);
  expect(take).toMatchObject({ state: 'closed', stripes: null });
  expect(partsOf(take)).toHaveLength(1);
  const plain = await server.smallSetup(striped({ container: 'mp4' }));
  const refused = await api().post(`/api/setups/${plain.id}/trials`).send({ lengthS: 2 });
  expect(refused.status).toBe(409);
  expect(refused.text).toContain('plain MP4');
  expect((await api().post(`/api/takes/${take.id}/rewrap`).send({ into: 'as-is' })).status).toBe(400);
}, 120_000);
