import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { problemSchema, setupSchema, takeSchema, type ChosenSample, type Setup, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer()));
afterAll(() => server.close());

const api = () => request(server.url);
const setupNow = async (id: string): Promise<Setup> => setupSchema.parse((await api().get(`/api/setups/${id}`)).body);
const choose = (id: string, chosen: ChosenSample) => api().put(`/api/setups/${id}/sample`).send(chosen);
async function made(id: string, kind: Take['kind']): Promise<Take> {
  const reply = await api().post(`/api/setups/${id}/trials`).send({ lengthS: 2, kind });
  expect(reply.status).toBe(201);
  return server.untilEnded(takeSchema.parse(reply.body).id);
}

describe('samples of a setup', () => {
  it('made with one request, they are what its trials play until the source itself is chosen again', async () => {
    const setup = await server.smallSetup((draft) => ({ ...draft, rate: { num: 25, den: 1 } }));
    const sample = await made(setup.id, 'sample');
    expect(sample).toMatchObject({ kind: 'sample', state: 'closed', source: { kind: 'practice' } });
    expect(sample.recipe).toMatchObject({
      rate: { num: 50, den: 1 },
      encode: { encoder: 'utvideo-software', rateControl: 'lossless', pixels: '4:2:0' },
      size: { widthPx: setup.game.widthPx, heightPx: setup.game.heightPx },
      lanes: [],
    });
    expect(sample.fileName).toContain('sample');
    const playing = await setupNow(setup.id);
    expect(playing.sample).toMatchObject({ path: sample.filePath, frames: sample.facts?.picture.packets });
    // The draft is a person's; a sample changes nothing of it.
    expect(playing.draft).toEqual(setup.draft);

    const trial = await made(setup.id, 'trial');
    expect(trial.source).toEqual(playing.sample);
    expect(trial.recipe).toEqual(setup.draft);
    expect(trial.game).toMatchObject({ kind: 'own', widthPx: setup.game.widthPx, capFps: 50 });
    expect(trial.summary?.fates.new).toBeGreaterThan(30);
    // Nobody plays a sample.
    expect(trial.playCost).toBeNull();

    expect(setupSchema.parse((await choose(setup.id, { from: 'live' })).body).sample).toBeNull();
    expect((await made(setup.id, 'trial')).source).toEqual({ kind: 'practice' });
    const again = await choose(setup.id, { from: 'take', takeId: trial.id });
    expect(setupSchema.parse(again.body).sample?.name).toContain(`trial ${trial.number}`);
  }, 120_000);

  it('that are gone, are no films or belong to a simulated machine are refused in words, and nothing changes', async () => {
    const setup = await server.smallSetup((draft) => draft);
    const notes = join(server.folder, 'notes.txt');
    writeFileSync(notes, 'not a film');
    for (const [chosen, status, words] of [
      [{ from: 'file', path: notes }, 400, 'cannot be a sample'],
      [{ from: 'file', path: 'notes.txt' }, 400, 'no complete path'],
      [{ from: 'file', path: join(server.folder, 'none.mkv') }, 409, 'moved or deleted'],
      [{ from: 'take', takeId: 'none' }, 404, 'There is no take'],
    ] as const) {
      const reply = await choose(setup.id, chosen);
      expect([reply.status, problemSchema.parse(reply.body).detail]).toEqual([status, expect.stringContaining(words)]);
    }
    expect((await setupNow(setup.id)).sample).toBeNull();

    const sample = await made(setup.id, 'sample');
    rmSync(sample.filePath);
    const gone = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
    expect(problemSchema.parse(gone.body).detail).toContain('Let trials play the source itself');

    await server.services.machines.bringInDemo();
    const machine = (await server.services.machines.list()).find(({ origin }) => origin === 'simulated')!;
    await server.services.setups.change(setup.id, { machineId: machine.id });
    for (const kind of ['trial', 'sample'] as const) {
      const reply = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2, kind });
      expect(problemSchema.parse(reply.body).detail).toContain('A simulated machine plays the practice game');
    }
  }, 60_000);
});
