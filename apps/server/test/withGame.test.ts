import request from 'supertest';
import { setupSchema, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
let running: string[] = [];
let looks = 0;
/** Time has passed when it was looked a few times more. */
const untilLooked = async (): Promise<void> => {
  for (const from = looks; looks < from + 4;) await new Promise((resolve) => setTimeout(resolve, 20));
};
beforeEach(async () => {
  running = ['systemd', 'other game'];
  server = await openTestServer({ withGame: { programs: async () => (looks++, running), lookEveryMs: 50 } });
});
afterEach(() => server.close());

const arm = (id: string, process = 'Paper Comets.exe', on = true) =>
  request(server.url).put(`/api/setups/${id}/with-game`).send({ withGame: { process, on } });
const takes = async (): Promise<Take[]> => server.services.takes.list();
const rolling = () => server.untilLive(({ take }) => (take?.due ?? 0) > 40);

it('rolls when its program appears, once, and ends its own take when it goes', async () => {
  const setup = await server.smallSetup();
  server.services.withGame.begin();
  expect(setupSchema.parse((await arm(setup.id)).body).withGame).toEqual({ process: 'Paper Comets.exe', on: true });
  expect(await takes()).toEqual([]);
  running = [...running, 'paper comets'];
  const { take } = await rolling();
  expect(take?.lengthS).toBeNull();
  running = ['systemd'];
  expect(await server.untilEnded(take!.takeId)).toMatchObject({ kind: 'full', end: 'stopped', state: 'closed' });
  // It appears again: so does a take. One that a person stops is not begun again while the program runs on.
  running = ['paper comets'];
  const again = await rolling();
  expect(again.take?.takeId).not.toBe(take?.takeId);
  server.services.recorder.stop();
  await server.untilEnded(again.take!.takeId);
  await untilLooked();
  expect(await takes()).toHaveLength(2);
}, 90_000);

it('rolls at once where it runs already when it is asked for, and nothing unasked after a start', async () => {
  const setup = await server.smallSetup();
  running = ['Paper Comets.exe'];
  await server.services.setups.setWithGame(setup.id, { process: 'paper comets', on: true });
  server.services.withGame.begin();
  await untilLooked();
  expect(await takes()).toEqual([]);
  await arm(setup.id);
  const { take } = await rolling();
  // Switched off, its take goes on: who wants it to end stops it.
  await arm(setup.id, 'paper comets', false);
  running = [];
  await server.untilLive((state) => (state.take?.due ?? 0) > (take?.due ?? 0) + 15);
  server.services.recorder.stop();
  await server.untilEnded(take!.takeId);
}, 90_000);

it('leaves another take alone, and says once why it did not roll', async () => {
  const [mine, other] = [await server.smallSetup(), await server.smallSetup()];
  server.services.withGame.begin();
  await arm(mine.id);
  const foreign = await server.services.recorder.startTrial(other.id, null, 'full');
  await rolling();
  running = ['paper comets'];
  const told = await server.untilLive(({ notice }) => notice?.text.includes('does not roll') ?? false);
  running = [];
  const due = server.services.live.state().take?.due ?? 0;
  await server.untilLive(({ take }) => (take?.due ?? 0) > due + 20);
  expect(server.services.live.state().notice?.id).toBe(told.notice?.id);
  server.services.recorder.stop();
  await server.untilEnded(foreign.id);
}, 90_000);

it('lists what runs, and refuses names that are none', async () => {
  const reply = await request(server.url).get('/api/programs');
  expect(reply.body).toEqual(running);
  const setup = await server.smallSetup();
  expect((await arm(setup.id, '  ')).status).toBe(400);
  expect((await arm('nobody')).status).toBe(404);
});

it('begins nothing with a program that is left alone, says so, and does not list it', async () => {
  const setup = await server.smallSetup();
  server.services.withGame.begin();
  await arm(setup.id, 'paper comets');
  const leave = (names: unknown) => request(server.url).put('/api/left-alone').send({ names });
  expect((await leave(['Paper Comets.exe', 'Paper Comets.exe'])).body).toEqual(['Paper Comets.exe']);
  running = ['paper comets', 'other game'];
  await untilLooked();
  expect(await takes()).toEqual([]);
  expect((await request(server.url).get('/api/programs')).body).toEqual(['other game']);
  const refused = await arm(setup.id, 'paper comets');
  expect([refused.status, refused.text]).toEqual([400, expect.stringContaining('is left alone')]);
  for (const names of [[' '], 'mail', Array.from({ length: 101 }, (_, i) => `p${i}`)])
    expect((await leave(names)).status).toBe(400);
  await leave([]);
  expect((await request(server.url).get('/api/left-alone')).body).toEqual([]);
  // It runs already: taken off the list it begins nothing by itself, and a take when it appears again.
  await untilLooked();
  expect(await takes()).toEqual([]);
  running = [];
  await untilLooked();
  running = ['paper comets'];
  await rolling();
  server.services.recorder.stop();
  await server.untilLive((state) => state.recorder === 'idle');
}, 60_000);
