import { existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import request from 'supertest';
import { partsOf, problemSchema, takeSchema, type Recipe, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer()));
afterAll(() => server.close());

const api = () => request(server.url);
/** A new file every 6 s. */
const inParts = (draft: Recipe): Recipe => ({
  ...draft,
  parts: { by: 'length', minutes: 0.1 },
  encode: { ...draft.encode, keyDistanceFrames: 30, closedGroups: true },
});
const roll = async (setupId: string): Promise<Take> =>
  takeSchema.parse((await api().post(`/api/setups/${setupId}/trials`).send({ kind: 'full', lengthS: null })).body);
const untilPart = (n: number) => server.untilLive(({ take }) => (take?.parts ?? 0) >= n);

it('a full take in parts is read, played, saved, joined and deleted as one', async () => {
  const setup = await server.smallSetup(inParts);
  const { id } = await roll(setup.id);
  await untilPart(3);
  // They belong to the take while it rolls.
  expect(partsOf(await server.services.takes.get(id)).length).toBeGreaterThanOrEqual(2);
  await api().post('/api/recorder/stop');
  const take = await server.untilEnded(id);
  expect(take).toMatchObject({ state: 'closed', end: 'stopped', tailFrames: 0 });
  const parts = partsOf(take);
  expect(parts).toHaveLength(3);
  // The first key picture after each 6 s begins a part; keys are counted in frames of the file, so misses make them late.
  parts.forEach(({ startUs = 0 }, n) => {
    expect(startUs).toBeGreaterThanOrEqual(n * 6e6);
    expect(startUs).toBeLessThan(n * 6e6 + (n && 2e6) + 1);
  });
  expect(parts.map(({ path, bytes }) => statSync(path).size === bytes)).toEqual([true, true, true]);
  expect(take.facts?.bytes).toBe(parts.reduce((sum, { bytes }) => sum + (bytes ?? 0), 0));
  expect(take.summary?.filed).toBe(take.facts?.picture.packets);
  expect(take.verdict?.facts.find(({ name }) => name === 'File')).toMatchObject({ holds: true });
  // What is looked at of a take is all of it, with sound and still.
  const media = await api().get(`/api/takes/${id}/media?lane=0`);
  expect(media.status).toBe(200);
  expect((await api().get(`/api/takes/${id}/still`)).status).toBe(200);
  const second = await api().get(`/api/takes/${id}/file?part=2`).buffer(false);
  expect(Number(second.headers['content-length'])).toBe(parts[1]?.bytes);
  expect((await api().get(`/api/takes/${id}/file?part=4`)).status).toBe(410);
  for (const into of ['mkv', 'mp4']) {
    const joined = takeSchema.parse((await api().post(`/api/takes/${id}/rewrap`).send({ into })).body);
    const copy = joined.files.findLast(({ role }) => role === 'copy');
    expect(copy?.path).toMatch(new RegExp(` whole\\.${into}$`));
  }
  expect((await api().post(`/api/takes/${id}/rewrap`).send({ into: 'avi' })).status).toBe(400);
  const removed = (await api().delete(`/api/takes/${id}`)).body as { removed: string[]; left: string[] };
  expect(removed).toMatchObject({ left: [] });
  expect(removed.removed).toHaveLength(5);
}, 120_000);

it('a recorder that dies in a later part loses nothing of those before, also where nobody heard of them', async () => {
  const setup = await server.smallSetup(inParts);
  const { id, files } = await roll(setup.id);
  await untilPart(2);
  await server.untilLive(({ take }) => (take?.durableBytes ?? 0) > 0 && (take?.elapsedUs ?? 0) > 8.5e6);
  const heardUs = server.services.live.state().take?.elapsedUs ?? 0;
  // As if the application had died too before it stored the part: the recorder has written it down.
  await server.services.takes.update(id, { files });
  process.kill(server.services.recorder.enginePid()!, 'SIGKILL');
  const take = await server.untilLookedAfter(id);
  expect(take.state).toBe('rescued');
  expect(partsOf(take)).toHaveLength(2);
  expect(take.facts?.picture.endUs ?? 0).toBeGreaterThan(heardUs - 2.2e6);
  expect(take.summary?.filed).toBe(take.facts?.picture.packets);
  expect((await api().get(`/api/takes/${id}/media?lane=0`)).status).toBe(200);
}, 120_000);

it('goes on in the next folder when the first is full; one that is gone is said when the take is read again', async () => {
  const base = mkdtempSync(join(tmpdir(), "mellow's next "));
  const [small, large] = [join(base, 'small'), join(base, 'large')];
  const add = async (name: string, path: string, quotaBytes: number | null): Promise<string> =>
    (
      (
        await api()
          .post('/api/drives')
          .send({ name, folder: path, make: true, ...(quotaBytes === null ? {} : { quotaBytes }) })
      ).body as { id: string }
    ).id;
  const first = await add('Small', small, 6e6);
  const next = await add('Large', large, null);
  const setup = await server.smallSetup((draft) => ({
    ...draft,
    driveId: first,
    nextDriveIds: [next],
    lanes: [{ name: 'All', sources: ['game'], codec: 'pcm', bitrateKbps: 160 }],
    encode: { ...draft.encode, keyDistanceFrames: 30, closedGroups: true, quality: 8 },
  }));
  const { id } = await roll(setup.id);
  await untilPart(2);
  await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 5e6);
  await api().post('/api/recorder/stop');
  const take = await server.untilEnded(id);
  expect(take).toMatchObject({ state: 'closed', end: 'stopped' });
  const [one, two] = partsOf(take);
  expect(one?.path.startsWith(small)).toBe(true);
  expect(two?.path.startsWith(large)).toBe(true);
  expect(two?.driveId).toBe(next);
  // What lies there counts there.
  expect(await server.services.takes.bytesOnDrive(next)).toBe(two?.bytes);
  expect(existsSync(dirname(two?.path ?? ''))).toBe(true);
  rmSync(two?.path ?? '');
  const gone = await api().get(`/api/takes/${id}/media?lane=0`);
  expect(problemSchema.parse(gone.body).detail).toContain(`A part of the take is not at ${two?.path}`);
  rmSync(base, { recursive: true, force: true });
}, 120_000);

it('open groups and parts are refused in words, with the remedy', async () => {
  const setup = await server.smallSetup((draft) => {
    const cut = inParts(draft);
    return { ...cut, encode: { ...cut.encode, bFrames: 2, closedGroups: false } };
  });
  const refused = await api().post(`/api/setups/${setup.id}/trials`).send({ kind: 'full', lengthS: null });
  expect(problemSchema.parse(refused.body).detail).toContain('"Close groups" on Path settles it');
});
