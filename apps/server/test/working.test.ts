import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import request from 'supertest';
import {
  driveSchema,
  problemSchema,
  takeSchema,
  workingPlaceSchema,
  type Drive,
  type WorkingPlace,
} from '@mellow/model';
import { openWorking } from '../src/drives/working';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
let scratch: Drive;
beforeEach(async () => {
  server = await openTestServer({ hangMs: 20_000 });
  const folder = join(server.folder, 'scratch');
  mkdirSync(folder);
  const body = { name: 'Scratch', folder, quotaBytes: null, make: false };
  scratch = driveSchema.parse((await api().post('/api/drives').send(body)).body);
});
afterEach(() => server.close());

const api = () => request(server.url);
const put = (driveId: string | null) => api().put('/api/working').send({ driveId });
const state = async (): Promise<WorkingPlace> => workingPlaceSchema.parse((await api().get('/api/working')).body);
const media = (takeId: string) => api().get(`/api/takes/${takeId}/media`);
const inFolder = (folder: string): string[] => (existsSync(folder) ? readdirSync(folder) : []);

async function shortTake(): Promise<string> {
  const setup = await server.smallSetup();
  const { id } = takeSchema.parse((await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 })).body);
  await server.untilEnded(id);
  return id;
}

async function holding() {
  const setup = await server.smallSetup((draft) => ({ ...draft, encode: { ...draft.encode, keyDistanceFrames: 30 } }));
  await api()
    .patch(`/api/setups/${setup.id}`)
    .send({ hindsight: { lengthS: 60, where: 'drive' } });
  return setup;
}
const untilHeld = (seconds: number) =>
  server.untilLive(({ watching }) => watching?.state === 'on' && (watching.held?.heldS ?? 0) >= seconds);

it('copies for playing lie where the working folder is, are counted, removed and made anew', async () => {
  const take = await shortTake();
  expect((await media(take)).status).toBe(200);
  const before = await state();
  expect(before).toMatchObject({ driveId: null, copies: 1, problem: null });
  expect(before.copiesBytes).toBeGreaterThan(1000);
  const usual = server.services.folders.cache;
  expect(inFolder(usual)).toEqual([take]);

  writeFileSync(join(scratch.folder, 'somebody’s own.txt'), 'mine');
  expect((await put(scratch.id)).body).toEqual({ driveId: scratch.id, copies: 0, copiesBytes: 0, problem: null });
  expect(inFolder(usual)).toEqual([]);
  expect((await media(take)).status).toBe(200);
  expect(await state()).toMatchObject({ copies: 1, copiesBytes: before.copiesBytes });
  expect(inFolder(join(scratch.folder, '.copies'))).toEqual([take]);
  // The choice outlives the program.
  const { store, drives, folders, live } = server.services;
  const again = await openWorking({ store, drives, folders, live });
  expect(await again.state()).toMatchObject({ driveId: scratch.id, copies: 1 });

  expect((await api().delete('/api/working/copies')).body).toMatchObject({ copies: 0, copiesBytes: 0 });
  expect((await media(take)).status).toBe(200);
  await api().delete(`/api/takes/${take}`);
  expect(inFolder(join(scratch.folder, '.copies'))).toEqual([]);

  expect((await put(null)).body).toMatchObject({ driveId: null });
  expect(inFolder(scratch.folder)).toContain('somebody’s own.txt');
}, 60_000);

it('a working folder that is away is said, nothing is written in its place, and what it kept of deleted takes goes later', async () => {
  const [kept, deleted] = [await shortTake(), await shortTake()];
  await put(scratch.id);
  for (const take of [kept, deleted]) await media(take);
  const away = join(dirname(scratch.folder), 'unplugged');
  renameSync(scratch.folder, away);
  // What a drive is mounted on stays when it goes.
  mkdirSync(scratch.folder);
  const reply = await media(kept);
  expect(reply.status).toBe(409);
  expect(problemSchema.parse(reply.body).detail).toMatch(/^The working folder cannot be used: .*A copy for playing/);
  expect((await state()).problem).toContain('the drive is not');
  expect((await api().delete(`/api/takes/${deleted}`)).status).toBe(200);
  expect(inFolder(scratch.folder)).toEqual([]);

  const setup = await holding();
  expect(problemSchema.parse((await api().post('/api/hindsight/on').send({ setupId: setup.id })).body).detail).toMatch(
    /working folder cannot be used: .* Nothing is held\.$/,
  );
  // A take that rolls is worth more than what would be held beside it.
  const started = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: null, kind: 'full' });
  const full = takeSchema.parse(started.body);
  expect(server.services.live.state().notice).toMatchObject({
    title: 'Nothing is held beside this take',
    takeId: full.id,
  });
  await server.untilLive(({ take }) => (take?.due ?? 0) > 15);
  await api().post('/api/recorder/stop');
  expect(await server.untilEnded(full.id)).toMatchObject({ state: 'closed' });
  expect(inFolder(scratch.folder)).toEqual([]);

  renameSync(scratch.folder, join(server.folder, 'empty'));
  renameSync(away, scratch.folder);
  expect((await state()).problem).toBeNull();
  const left = await server.services.takes.list();
  server.services.working.prune(new Set(left.map(({ id }) => id)));
  expect(inFolder(join(scratch.folder, '.copies'))).toEqual([kept]);
}, 60_000);

it('held minutes wait there, become clips among the takes, and nothing is chosen away meanwhile', async () => {
  await put(scratch.id);
  const setup = await holding();
  await api().post('/api/hindsight/on').send({ setupId: setup.id });
  await untilHeld(4);
  const base = join(scratch.folder, '.hindsight');
  const [mine] = inFolder(base);
  expect(mine).toMatch(new RegExp(`^watch-${setup.id}-`));
  const refused = await put(null);
  expect(refused.status).toBe(409);
  expect(problemSchema.parse(refused.body).detail).toContain('Let it go');
  expect((await state()).driveId).toBe(scratch.id);

  // As everything's death would leave it: pieces of an earlier beginning, of which nobody knows.
  cpSync(join(base, mine!), join(base, `watch-${setup.id}-1`), { recursive: true });
  const head = join(base, `watch-${setup.id}-1`, 'head.json');
  const { recipe } = JSON.parse(readFileSync(head, 'utf8')) as { recipe: unknown };
  writeFileSync(head, JSON.stringify({ recipe, owner: '' }));
  await server.services.clips.gatherAll();
  const [clip] = await server.services.takes.list();
  expect(clip).toMatchObject({ kind: 'clip', driveId: await server.services.drives.defaultId() });
  expect(inFolder(base)).toEqual([mine]);
  await api().post('/api/hindsight/off');
  expect(inFolder(base)).toEqual([]);

  const full = takeSchema.parse(
    (await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: null, kind: 'full' })).body,
  );
  await server.untilLive(({ take }) => (take?.held?.heldS ?? 0) >= 1);
  expect(inFolder(base)).toEqual([full.id]);
  expect((await put(null)).status).toBe(409);
  await api().post('/api/recorder/stop');
  await server.untilEnded(full.id);
  expect(inFolder(base)).toEqual([]);
  expect((await put(null)).status).toBe(200);
}, 90_000);

it('refuses what cannot be a working folder, and keeps its folder on the list', async () => {
  for (const driveId of ['nobody', '', 'x'.repeat(41), 7]) {
    const { status } = await api().put('/api/working').send({ driveId });
    expect([400, 404]).toContain(status);
  }
  expect(problemSchema.parse((await put('demo')).body).detail).toContain('goes with the demo');
  renameSync(scratch.folder, join(server.folder, 'away'));
  expect(problemSchema.parse((await put(scratch.id)).body).detail).toContain('is the one it was');
  renameSync(join(server.folder, 'away'), scratch.folder);
  await put(scratch.id);
  const removal = await api().delete(`/api/drives/${scratch.id}`);
  expect(removal.status).toBe(409);
  expect(problemSchema.parse(removal.body).detail).toContain('working folder');
  await put(null);
  expect((await api().delete(`/api/drives/${scratch.id}`)).status).toBe(204);
});
