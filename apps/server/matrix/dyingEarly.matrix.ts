import request from 'supertest';
import { plainPracticeGame } from '@mellow/core';
import { type Take } from '@mellow/model';
import { openTestServer, type TestServer } from '../test/support/testServer';

jest.setTimeout(240_000);

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 2000, trialClock: 'real' })));
afterAll(() => server.close());

const api = () => request(server.url);

async function trial(setupId: string, lengthS = 2): Promise<Take> {
  const begun = await server.services.recorder.startTrial(setupId, lengthS);
  return server.untilEnded(begun.id);
}

describe('stopping and dying early', () => {
  it('a trial stopped at once, in whatever it is doing, comes back to idle every time', async () => {
    const setup = await server.smallSetup();
    for (const afterMs of [0, 20, 120, 300, 700, 1300]) {
      const begun = await server.services.recorder.startTrial(setup.id, 20);
      await new Promise((resolve) => setTimeout(resolve, afterMs));
      server.services.recorder.stop();
      const take = await server.untilEnded(begun.id);
      expect(['stopped', 'error']).toContain(take.end);
      if (!take.facts) expect(take.state).toBe('failed');
    }
    expect((await trial(setup.id)).state).toBe('closed');
  });

  it('a recorder that dies while idle, or right after a start, ends nothing', async () => {
    const setup = await server.smallSetup();
    // Every phase of a take: matrix/kills.matrix.ts.
    for (const afterMs of [null, 0, 60]) {
      if (afterMs === null) {
        process.kill(server.services.recorder.enginePid() ?? 0, 'SIGKILL');
      } else {
        const begun = await server.services.recorder.startTrial(setup.id, 20);
        await new Promise((resolve) => setTimeout(resolve, afterMs));
        const pid = server.services.recorder.enginePid();
        if (pid) process.kill(pid, 'SIGKILL');
        // Before the take has begun a fresh recorder begins it; afterwards it is rescued, or had not begun to write.
        await server.untilLive((state) => state.recorder === 'idle' || state.recorder === 'rolling');
        if (server.services.live.state().recorder === 'rolling') server.services.recorder.stop();
        expect(['closed', 'failed', 'rescued']).toContain((await server.untilEnded(begun.id)).state);
      }
      expect((await trial(setup.id)).state).toBe('closed');
    }
  });

  it('a simulated take stopped at once leaves nothing behind and blocks nothing', async () => {
    await server.services.machines.bringInDemo();
    const setup = await server.services.setups.create({
      name: 'Far away',
      brief: { ...(await server.smallSetup()).brief },
      game: { ...plainPracticeGame, widthPx: 640, heightPx: 360 },
      machineId: 'kestrel',
    });
    const begun = await server.services.recorder.startTrial(setup.id, 4);
    server.services.recorder.stop();
    const take = await server.untilEnded(begun.id);
    expect(['failed', 'closed']).toContain(take.state);
    if (take.state === 'failed') expect(take.files).toEqual([]);
    expect((await trial((await server.smallSetup()).id)).state).toBe('closed');
  });

  it('nothing else of ours runs beside a take, and no take begins beside other work', async () => {
    const setup = await server.smallSetup();
    const begun = await server.services.recorder.startTrial(setup.id, 20);
    const proving = await api().post('/api/machines/this/prove');
    expect([proving.status, proving.body.type ?? JSON.parse(proving.text).type]).toEqual([
      409,
      '/problems/recorder-busy',
    ]);
    server.services.recorder.stop();
    await server.untilEnded(begun.id);
    const measuring = server.services.recorder.beside(() => server.untilLive((state) => state.recorder === 'armed'));
    await expect(server.services.recorder.startTrial(setup.id, 2)).rejects.toMatchObject({
      problem: { type: '/problems/job-running' },
    });
    void measuring;
    // A job that ends lets trials begin again; this one is ended by what it waits for.
    server.services.live.setTake('armed', null);
    await measuring;
    server.services.live.setTake('idle', null);
    expect((await trial(setup.id)).state).toBe('closed');
  });
});
