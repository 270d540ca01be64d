import { existsSync } from 'node:fs';
import { expectNextTrialWorks, harm } from './support/harm';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 1500, trialClock: 'real' })));
afterAll(() => server.close());

// A recorder that hangs, a folder that vanishes, a drive that gets full: matrix/recorderDies.matrix.ts.
describe('if it dies', () => {
  it('a killed recorder: the file is rescued, what is lost is counted, and the next trial works', async () => {
    const setup = await server.smallSetup();
    const take = await harm(server, setup.id, () => process.kill(server.services.recorder.enginePid() ?? 0, 'SIGKILL'));
    expect(take).toMatchObject({ state: 'rescued', end: 'engine-died' });
    const kept = (take.facts?.picture.endUs ?? 0) / 1e6;
    expect(kept).toBeGreaterThan(0.5);
    expect(take.tailFrames).toBeGreaterThan(0);
    // Shown before as "if the recorder dies"; a slow machine may be some events behind.
    expect(take.tailFrames / 30).toBeLessThan(3);
    expect(take.verdict?.sentence).toMatch(/^Rescued: \d/);
    expect(server.services.live.state().notice?.text).toMatch(/rescued.*are lost/);
    expect(existsSync(take.filePath)).toBe(true);
    await expectNextTrialWorks(server, setup.id);
  });

  it('a trial stopped early is closed and kept', async () => {
    const setup = await server.smallSetup();
    const take = await harm(server, setup.id, () => server.services.recorder.stop(), 1.2);
    expect(take).toMatchObject({ state: 'closed', end: 'stopped', tailFrames: 0 });
    expect(take.facts?.durationUs).toBeGreaterThan(1e6);
  });

  it('only one take rolls at a time, also for two that ask at once', async () => {
    const setup = await server.smallSetup();
    const asked = await Promise.allSettled([
      server.services.recorder.startTrial(setup.id, 2),
      server.services.recorder.startTrial(setup.id, 2),
    ]);
    expect(asked.map((a) => a.status).sort()).toEqual(['fulfilled', 'rejected']);
    await server.untilLive((state) => state.recorder === 'idle' && state.take === null);
    expect(await server.services.takes.list(setup.id)).toHaveLength(1);
  });
});
