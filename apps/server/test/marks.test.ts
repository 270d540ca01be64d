import request from 'supertest';
import { markSchema, problemSchema, takeSchema } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer()));
afterAll(() => server.close());

const api = () => request(server.url);
const mark = (body: object = {}) => api().post('/api/recorder/marks').send(body);

it('are set at their moment, named and taken away, many at once, and outlive the recorder', async () => {
  const setup = await server.smallSetup();
  const { id } = takeSchema.parse(
    (await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: null, kind: 'full' })).body,
  );
  await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 1e6);
  const before = server.services.recorder.rollingNow()!.elapsedUs;
  const first = markSchema.parse((await mark({ note: '  the gate ' })).body);
  const after = server.services.recorder.rollingNow()!.elapsedUs;
  expect(first.note).toBe('the gate');
  expect(first.atUs).toBeGreaterThanOrEqual(before - 1);
  expect(first.atUs).toBeLessThanOrEqual(after);
  // Keys that bounce and two pages that press: none is lost, each has an id of its own.
  const many = await Promise.all(Array.from({ length: 20 }, () => mark()));
  expect(new Set(many.map(({ body }) => markSchema.parse(body).id)).size).toBe(20);
  expect((await mark({ note: 'x'.repeat(201) })).status).toBe(400);
  const renamed = await api().patch(`/api/takes/${id}/marks/${first.id}`).send({ note: '' });
  expect(takeSchema.parse(renamed.body).marks[0]).toEqual({ ...first, note: '' });
  await server.services.recorder.stop();
  const gone = await api().delete(`/api/takes/${id}/marks/${first.id}`);
  expect(takeSchema.parse(gone.body).marks).toHaveLength(20);
  const twice = await api().delete(`/api/takes/${id}/marks/${first.id}`);
  expect(problemSchema.parse(twice.body).detail).toContain('has no such mark');
  const { marks, state, facts } = await server.untilEnded(id);
  expect(state).toBe('closed');
  expect(marks).toHaveLength(20);
  expect(marks.map(({ atUs }) => atUs)).toEqual(marks.map(({ atUs }) => atUs).sort((a, b) => a - b));
  expect(marks.at(-1)?.atUs).toBeLessThanOrEqual((facts?.picture.endUs ?? 0) + 5e5);
  expect((await mark()).status).toBe(409);
}, 60_000);

it('stay with a take whose recorder is killed while it is paused, and what was not recorded is not missed', async () => {
  const setup = await server.smallSetup();
  const { id } = takeSchema.parse(
    (await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: null, kind: 'full' })).body,
  );
  await server.untilLive(({ take }) => (take?.durableBytes ?? 0) > 0 && (take?.elapsedUs ?? 0) > 1.5e6);
  await mark({ note: 'before it died' });
  await api().post('/api/recorder/pause').send({ on: true });
  const { take: paused } = await server.untilLive(({ take }) => (take?.pausedS ?? 0) > 2);
  process.kill(server.services.recorder.enginePid()!, 'SIGKILL');
  const take = await server.untilLookedAfter(id);
  expect(take).toMatchObject({ state: 'rescued', marks: [{ note: 'before it died' }] });
  expect(take.summary?.due).toBeLessThanOrEqual((paused?.due ?? 0) + 1);
}, 60_000);
