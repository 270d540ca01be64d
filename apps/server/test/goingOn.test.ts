import { mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { driveSchema, takeSchema, type Recipe, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

/** A full take that was cut off is followed by another one; nothing else is. */
let server: TestServer;
let programs: string[] = [];
let looks = 0;
beforeEach(async () => {
  [programs, looks] = [[], 0];
  server = await openTestServer({
    hangMs: 20_000,
    withGame: { programs: () => Promise.resolve((looks++, programs)), lookEveryMs: 50 },
  });
});
afterEach(() => server.close());

const api = () => request(server.url);
const begin = async (setupId: string, body: object = { kind: 'full', lengthS: null }): Promise<Take> =>
  takeSchema.parse((await api().post(`/api/setups/${setupId}/trials`).send(body)).body);
const rolls = (due = 45) =>
  server
    .untilLive(({ recorder, take }) => recorder === 'rolling' && (take?.due ?? 0) > due)
    .then(({ take }) => take!.takeId);
/** Rolls, and is another take than the one before. */
const goesOn = async (before: string): Promise<Take> => {
  const { take } = await server.untilLive(
    (state) => state.recorder === 'rolling' && state.take?.takeId !== before && (state.take?.due ?? 0) > 10,
  );
  return server.services.takes.get(take!.takeId);
};
const kill = () => process.kill(server.services.recorder.enginePid()!, 'SIGKILL');
/** What was left of a take while another one rolled is done. */
async function lookedAfter(id: string): Promise<void> {
  while ((await server.services.takes.get(id)).state === 'waiting' || server.services.live.state().recorder !== 'idle')
    await new Promise((resolve) => setTimeout(resolve, 50));
}
const idle = () => server.untilLive(({ recorder }) => recorder === 'idle');
const number = async (): Promise<number> => (await server.services.takes.list()).length;
const notice = () => server.services.live.state().notice;
async function drive(name: string): Promise<{ id: string; folder: string }> {
  const folder = join(server.folder, name);
  mkdirSync(folder);
  return driveSchema.parse(
    (await api().post('/api/drives').send({ name, folder, quotaBytes: null, make: false })).body,
  );
}
const stop = () => api().post('/api/recorder/stop');

it('when its recorder dies: a second take rolls in the same folder until it is stopped, and what was there is rescued afterwards', async () => {
  const setup = await server.smallSetup();
  const first = await begin(setup.id);
  await rolls();
  kill();
  const second = await goesOn(first.id);
  expect(second).toMatchObject({ setupId: setup.id, kind: 'full', lengthS: null, driveId: first.driveId });
  expect(await server.services.takes.get(first.id)).toMatchObject({ state: 'waiting', end: 'engine-died' });
  expect(notice()).toMatchObject({
    title: 'Take 1 ended early, take 2 goes on',
    text: expect.stringMatching(
      /died while rolling.* looked after when nothing rolls\. What is played now goes to Footage\.$/,
    ),
    takeId: first.id,
  });
  await stop();
  expect(await server.untilEnded(second.id)).toMatchObject({ state: 'closed', end: 'stopped' });
  await lookedAfter(first.id);
  expect(await server.services.takes.get(first.id)).toMatchObject({ state: 'rescued', end: 'engine-died' });
  await idle();
  expect(await number()).toBe(2);
}, 60_000);

it('when its drive goes: in the next folder that is there, for what is left of its length', async () => {
  const [attic, away, cellar] = [await drive('attic'), await drive('away'), await drive('cellar')];
  const change = (draft: Recipe): Recipe => ({ ...draft, driveId: attic.id, nextDriveIds: [away.id, cellar.id] });
  const setup = await server.smallSetup(change);
  renameSync(away.folder, join(server.folder, 'unplugged'));
  const first = await begin(setup.id, { kind: 'full', lengthS: 120 });
  await rolls();
  renameSync(attic.folder, join(server.folder, 'unplugged too'));
  const second = await goesOn(first.id);
  expect(second.driveId).toBe(cellar.id);
  expect(second.recipe).toMatchObject({ driveId: cellar.id, nextDriveIds: [away.id, cellar.id] });
  expect(second.lengthS).toBeGreaterThan(60);
  expect(second.lengthS).toBeLessThan(120);
  // The recipe itself stays as it was.
  expect((await server.services.setups.get(setup.id)).draft.driveId).toBe(attic.id);
  await stop();
  await server.untilEnded(second.id);
  await lookedAfter(first.id);
  expect(await server.services.takes.get(first.id)).toMatchObject({ state: 'rescued', end: 'drive-gone' });
}, 60_000);

it('with the game: the second take ends when the game does', async () => {
  const setup = await server.smallSetup();
  await server.services.withGame.set(setup.id, { on: true, process: 'oilstreet' });
  server.services.withGame.begin();
  // What runs when it is first looked at begins nothing.
  for (const before = looks; looks < before + 2;) await new Promise((resolve) => setTimeout(resolve, 10));
  programs = ['oilstreet'];
  const first = await rolls();
  kill();
  const second = await goesOn(first);
  programs = [];
  expect(await server.untilEnded(second.id)).toMatchObject({ state: 'closed', end: 'stopped' });
  expect(await number()).toBe(2);
}, 60_000);

it('not when somebody had stopped it, and not a trial', async () => {
  const setup = await server.smallSetup();
  const stopped = await begin(setup.id);
  await rolls();
  const closing = server.untilLive(({ recorder }) => recorder === 'closing');
  await stop();
  kill();
  expect((await closing).take?.takeId).toBe(stopped.id);
  await server.untilEnded(stopped.id);
  const trial = await begin(setup.id, { lengthS: 20 });
  await rolls();
  kill();
  await server.untilEnded(trial.id);
  expect(await number()).toBe(2);
}, 60_000);

it('not without a folder', async () => {
  const attic = await drive('attic');
  const setup = await server.smallSetup((draft) => ({ ...draft, driveId: attic.id }));
  const alone = await begin(setup.id);
  await rolls();
  renameSync(attic.folder, join(server.folder, 'unplugged'));
  await server.untilLive(() => notice()?.text.includes('No folder can be written to') ?? false);
  expect(notice()).toMatchObject({ takeId: alone.id, title: 'Take 1 ended early' });
  expect(await number()).toBe(1);
}, 60_000);

it('not for ever: the fourth that breaks within a minute is the last', async () => {
  const setup = await server.smallSetup();
  let last = await begin(setup.id);
  for (let death = 0; death < 3; death++) {
    await rolls(5);
    kill();
    last = await goesOn(last.id);
  }
  kill();
  await server.untilLive(() => notice()?.text.endsWith('no other take begins by itself.') ?? false);
  await server.untilEnded(last.id);
  expect(await number()).toBe(4);
}, 120_000);
