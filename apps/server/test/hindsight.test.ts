import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import request from 'supertest';
import { problemSchema, takeSchema, type Hindsight, type Take } from '@mellow/model';
import { until } from './support/program';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeEach(async () => void (server = await openTestServer({ hangMs: 20_000 })));
afterEach(() => server.close());

const api = () => request(server.url);
const keep = (lastS: number | null = null) => api().post('/api/recorder/keep').send({ lastS });
const watch = (setupId: string) => api().post('/api/hindsight/on').send({ setupId });
async function setupHolding(hindsight: Partial<Hindsight> | null) {
  const setup = await server.smallSetup((draft) => ({ ...draft, encode: { ...draft.encode, keyDistanceFrames: 30 } }));
  const asked = await api().patch(`/api/setups/${setup.id}`).send({ hindsight });
  expect(asked.status).toBe(200);
  return setup;
}
const untilHeld = (seconds: number) =>
  server.untilLive(({ watching }) => watching?.state === 'on' && (watching.held?.heldS ?? 0) >= seconds);
const clips = async (): Promise<Take[]> => (await server.services.takes.list()).filter(({ kind }) => kind === 'clip');
const left = async (): Promise<string[]> => {
  const drive = await server.services.drives.get(await server.services.drives.defaultId());
  const base = join(drive.folder, '.hindsight');
  return existsSync(base) ? readdirSync(base) : [];
};

it('holds without a take, keeps twice in a row, makes way for a take and holds again', async () => {
  const setup = await setupHolding({ lengthS: 20 });
  expect((await watch(setup.id)).status).toBe(200);
  await untilHeld(2.5);
  const [first, second] = await Promise.all([keep(2), keep(null)]);
  expect([first.status, second.status]).toEqual([201, 201]);
  const one = takeSchema.parse(first.body);
  expect(one).toMatchObject({ kind: 'clip', state: 'closed', summary: null, lengthS: 2 });
  expect(one.verdict?.sentence).toMatch(/^Kept: /);
  expect(one.verdict?.facts.filter(({ holds }) => holds === false)).toEqual([]);
  expect((one.facts?.picture.endUs ?? 0) / 1e6).toBeGreaterThanOrEqual(2);
  expect((one.facts?.picture.endUs ?? 0) / 1e6).toBeLessThan(3.1);
  expect(one.facts?.lanes).toHaveLength(1);
  expect(existsSync(join(server.services.takes.folder(one.id), 'still.jpg'))).toBe(true);
  expect(server.services.live.state().notice?.title).toMatch(/are kept$/);
  // No trial to learn from, and a trial has the machine to itself.
  const trial = takeSchema.parse((await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 })).body);
  expect(server.services.live.state().watching).toMatchObject({ state: 'resting', held: null });
  expect((await keep()).status).toBe(409);
  await server.untilEnded(trial.id);
  await untilHeld(1);
  expect((await api().post('/api/hindsight/off')).status).toBe(204);
  expect(server.services.live.state().watching).toBeNull();
  expect((await keep()).status).toBe(409);
  const removed = await api().delete(`/api/takes/${one.id}`);
  expect(removed.body.removed).toEqual([one.filePath]);
  expect(existsSync(takeSchema.parse(second.body).filePath)).toBe(true);
}, 90_000);

it('is held beside a full take from the drive, marks it, and leaves no pieces', async () => {
  const setup = await setupHolding({ lengthS: 20, where: 'drive' });
  const { id } = takeSchema.parse(
    (await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: null, kind: 'full' })).body,
  );
  await server.untilLive(({ take }) => (take?.held?.heldS ?? 0) >= 2);
  expect(await left()).toEqual([id]);
  const reply = await keep(1);
  expect(reply.body).toMatchObject({ kind: 'clip' });
  const clip = takeSchema.parse(reply.body);
  // Nothing reads beside what rolls.
  expect(clip).toMatchObject({ state: 'reading-back', facts: null, verdict: null });
  expect(server.services.live.state()).toMatchObject({ jobs: [], recorder: 'rolling' });
  await api().post('/api/recorder/stop');
  const take = await server.untilEnded(id);
  const read = await until(async () => {
    const now = await server.services.takes.get(clip.id);
    return now.state === 'closed' ? now : null;
  });
  expect(read).toMatchObject({ state: 'closed', verdict: { sentence: expect.stringMatching(/^Kept: /) } });
  // One whose reading nobody saw the end of is read at the next start.
  await server.services.takes.update(clip.id, { state: 'reading-back', facts: null, verdict: null });
  await server.services.clips.gatherAll();
  expect(await server.services.takes.get(clip.id)).toMatchObject({ state: 'closed', facts: read.facts });
  expect(take).toMatchObject({ state: 'closed', marks: [{ note: expect.stringMatching(/ kept$/) }] });
  expect(clip.recipe).toEqual(take.recipe);
  expect(await left()).toEqual([]);
}, 90_000);

it('brings together what was held on the drive when its recorder is killed, says so, and holds again', async () => {
  const setup = await setupHolding({ lengthS: 60, where: 'drive' });
  await watch(setup.id);
  await untilHeld(4);
  const pid = server.services.hindsight.enginePid()!;
  process.kill(pid, 'SIGKILL');
  await server.untilLive(({ notice }) => notice?.title === 'What was held is there');
  const [clip] = await clips();
  expect(statSync(clip!.filePath).size).toBeGreaterThan(1000);
  expect((clip?.facts?.picture.endUs ?? 0) / 1e6).toBeGreaterThan(2);
  await untilHeld(1);
  expect(server.services.hindsight.enginePid()).not.toBe(pid);
}, 90_000);

it('follows how much is wanted, and ends with its setup', async () => {
  const setup = await setupHolding({ lengthS: 20 });
  await watch(setup.id);
  await untilHeld(0.5);
  await api()
    .patch(`/api/setups/${setup.id}`)
    .send({ hindsight: { lengthS: 60, where: 'drive' } });
  await server.untilLive(({ watching }) => watching?.held?.lengthS === 60 && watching.held.where === 'drive');
  // Two pages that switch it on and off at once: the last word holds, and nothing hangs.
  await Promise.all([watch(setup.id), api().post('/api/hindsight/off'), watch(setup.id)]);
  await untilHeld(0.5);
  expect((await api().delete(`/api/setups/${setup.id}`)).status).toBe(204);
  expect(server.services.live.state().watching).toBeNull();
  expect(await left()).toEqual([]);
}, 60_000);

it('takes nothing that another program still holds, and nothing that was let go', async () => {
  const setup = await setupHolding({ lengthS: 20, where: 'drive' });
  const drive = await server.services.drives.get(await server.services.drives.defaultId());
  const base = join(drive.folder, '.hindsight');
  const pieces = (name: string, owner: string): string => {
    const folder = join(base, name);
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'head.json'), JSON.stringify({ recipe: setup.draft, owner }));
    return folder;
  };
  const address = join(server.folder, 'owner.sock');
  const owner = createServer().listen(address);
  const [held, ofTake, letGo] = [
    pieces(`watch-${setup.id}-1`, address),
    pieces('some-take', address),
    pieces(`watch-${setup.id}-2`, ''),
  ];
  writeFileSync(join(letGo, 'let-go'), '');
  await server.services.clips.gatherAll();
  expect([held, ofTake, letGo].map((folder) => existsSync(folder))).toEqual([true, true, false]);
  await new Promise((resolve) => owner.close(resolve));
  // Its owner is gone: what a take held goes with it.
  await server.services.clips.gatherAll();
  expect(existsSync(ofTake)).toBe(false);
  expect(await clips()).toEqual([]);
});

it('refuses in words what cannot be held', async () => {
  const none = await setupHolding(null);
  expect(problemSchema.parse((await watch(none.id)).body).detail).toContain('how much is to be held');
  expect((await watch('nobody')).status).toBe(404);
  for (const hindsight of [{ lengthS: 19 }, { lengthS: 1801 }, { where: 'cloud' }])
    expect((await api().patch(`/api/setups/${none.id}`).send({ hindsight })).status).toBe(400);
  expect(server.services.live.state().watching).toBeNull();
  expect(problemSchema.parse((await keep()).body).detail).toContain('Nothing is held now');
  await server.services.machines.bringInDemo();
  const machine = (await server.services.machines.list()).find(({ origin }) => origin === 'simulated')!;
  const simulated = await setupHolding({});
  await server.services.setups.change(simulated.id, { machineId: machine.id });
  expect(problemSchema.parse((await watch(simulated.id)).body).detail).toContain('A simulated machine cannot hold');
});
