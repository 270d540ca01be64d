import request from 'supertest';
import { problemSchema, takeSchema } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer()));
afterAll(() => server.close());

const api = () => request(server.url);
const roll = (setupId: string, body: object) => api().post(`/api/setups/${setupId}/trials`).send(body);

/** What the last message of a live stream says of the recorder. */
const lastWord = (text: string): string | undefined =>
  /"recorder":"(\w+)"/.exec(text.slice(text.lastIndexOf('data:')))?.[1];

describe('a full take', () => {
  it('rolls without a length until it is stopped, is closed and judged, and records the source and no sample', async () => {
    const setup = await server.smallSetup();
    const asked = takeSchema.parse((await roll(setup.id, { lengthS: 2, kind: 'sample' })).body);
    await server.untilLive(({ take }) => take?.state === 'rolling');
    const refused = await api().post('/api/recorder/pause').send({ on: true });
    expect(problemSchema.parse(refused.body).detail).toMatch(/^Only full takes can be paused/);
    const sample = await server.untilEnded(asked.id);
    expect(sample.state).toBe('closed');
    const begun = await roll(setup.id, { lengthS: null, kind: 'full' });
    expect(begun.status).toBe(201);
    const { id } = takeSchema.parse(begun.body);
    const live = await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 3e6);
    expect(live.take).toMatchObject({ takeId: id, lengthS: null, state: 'rolling' });
    // Paused, and twice so: it stands still at one moment of the file, and goes on from there.
    for (let i = 0; i < 2; i++) expect((await api().post('/api/recorder/pause').send({ on: true })).status).toBe(204);
    const paused = await server.untilLive(({ take }) => (take?.pausedS ?? 0) > 1);
    expect(paused.recorder).toBe('rolling');
    const stillUs = server.services.recorder.rollingNow()?.elapsedUs;
    expect(stillUs).toBe(paused.take?.elapsedUs);
    await api().post('/api/recorder/pause').send({ on: false });
    await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > (stillUs ?? 0) + 5e5);
    await api().post('/api/recorder/stop');
    const take = await server.untilEnded(id);
    expect(take).toMatchObject({ kind: 'full', state: 'closed', end: 'stopped', source: { kind: 'practice' } });
    expect((take.facts?.picture.endUs ?? 0) / 1e6).toBeGreaterThan(2.5);
    expect(take.cuts).toEqual([{ why: 'paused', atUs: stillUs, leftOutUs: expect.any(Number) }]);
    expect(take.cuts[0]?.leftOutUs).toBeGreaterThan(1e6);
    // Its picture was looked at, though nobody knew its length.
    expect(take.likeness?.ssim).toBeGreaterThan(0.8);
    // Nobody plays the game alone before it counts.
    expect(take.playCost).toBeNull();
    expect(take.verdict?.facts.find(({ name }) => name === 'Length')).toMatchObject({
      asked: 'until it is stopped',
      holds: null,
    });
    expect(take.fileName).toMatch(/ take \d+\.mkv$/);
  }, 60_000);

  it('ends by itself after its length, or after the recipe’s ceiling where that is sooner', async () => {
    const setup = await server.smallSetup((draft) => ({ ...draft, ceilingMinutes: 1 }));
    const { id, lengthS } = takeSchema.parse((await roll(setup.id, { lengthS: null, kind: 'full' })).body);
    expect(lengthS).toBe(60);
    await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 5e5);
    await api().post('/api/recorder/stop');
    await server.untilEnded(id);
    expect(problemSchema.parse((await api().post('/api/recorder/pause').send({ on: true })).body).detail).toMatch(
      /^Nothing rolls/,
    );
    const short = takeSchema.parse((await roll(setup.id, { lengthS: 2, kind: 'full' })).body);
    expect(await server.untilEnded(short.id)).toMatchObject({ end: 'length', state: 'closed' });
  }, 60_000);

  it('rolls on whoever looks: ten pages, of which one never reads and others go', async () => {
    const setup = await server.smallSetup();
    const going = new AbortController();
    const pages = await Promise.all(
      Array.from({ length: 10 }, (_, i) => fetch(`${server.url}/api/live`, i % 2 ? { signal: going.signal } : {})),
    );
    expect(pages.map(({ status }) => status)).toEqual(Array.from({ length: 10 }, () => 200));
    // The first is opened and never read; the others read to the end of the take.
    const readers = pages.slice(2).filter((_, i) => i % 2 === 0);
    const seen = readers.map(async ({ body }) => {
      const reader = body!.pipeThrough(new TextDecoderStream()).getReader();
      let text = '';
      while (!(text.includes('"recorder":"rolling"') && text.endsWith('\n\n') && lastWord(text) === 'idle')) {
        const { value = '', done } = await reader.read();
        if (done) break;
        text += value;
      }
      await reader.cancel();
      return lastWord(text);
    });
    const { id } = takeSchema.parse((await roll(setup.id, { lengthS: null, kind: 'full' })).body);
    await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 1e6);
    going.abort();
    await server.untilLive(({ take }) => (take?.elapsedUs ?? 0) > 2e6);
    await api().post('/api/recorder/stop');
    const take = await server.untilEnded(id);
    expect(take).toMatchObject({ state: 'closed', tailFrames: 0 });
    expect(await Promise.all(seen)).toEqual(readers.map(() => 'idle'));
    await pages[0]?.body?.cancel();
  }, 60_000);

  it('is the only kind without a length, and a simulated machine has none', async () => {
    const setup = await server.smallSetup();
    for (const body of [
      { lengthS: null },
      { lengthS: 601 },
      { lengthS: null, kind: 'sample' },
      { lengthS: 90_000, kind: 'full' },
    ])
      expect((await roll(setup.id, body)).status).toBe(400);
    await server.services.machines.bringInDemo();
    const machine = (await server.services.machines.list()).find(({ origin }) => origin === 'simulated')!;
    await server.services.setups.change(setup.id, { machineId: machine.id });
    const reply = await roll(setup.id, { lengthS: null, kind: 'full' });
    expect(problemSchema.parse(reply.body).detail).toContain('A simulated machine cannot roll');
  });
});
