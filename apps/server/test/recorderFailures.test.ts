import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { LiveState, Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 1500 })));
afterAll(() => server.close());

/** Frames that have settled, so that whole seconds are on the drive. */
const rolledFor = (seconds: number) => (state: LiveState) =>
  (state.take?.elapsedUs ?? 0) >= seconds * 1e6 && (state.take?.fates.new ?? 0) > 30;

/** Begins a long trial, waits until it rolls for a while, does the harm, and gives back what became of the take. */
async function harm(setupId: string, act: () => void, seconds = 2.5): Promise<Take> {
  const take = await server.services.recorder.startTrial(setupId, 60);
  await server.untilLive(rolledFor(seconds));
  act();
  return server.untilEnded(take.id);
}

async function expectNextTrialWorks(setupId: string): Promise<void> {
  const next = await server.services.recorder.startTrial(setupId, 2);
  expect(await server.untilEnded(next.id)).toMatchObject({ state: 'closed', end: 'length' });
}

describe('if it dies', () => {
  it('a killed recorder: the file is rescued, what is lost is counted, and the next trial works', async () => {
    const setup = await server.smallSetup();
    const take = await harm(setup.id, () => process.kill(server.services.recorder.enginePid() ?? 0, 'SIGKILL'));
    expect(take).toMatchObject({ state: 'rescued', end: 'engine-died' });
    const kept = (take.facts?.picture.endUs ?? 0) / 1e6;
    expect(kept).toBeGreaterThan(0.5);
    expect(take.tailFrames).toBeGreaterThan(0);
    // Shown before as "if the recorder dies"; a slow machine may be some events behind.
    expect(take.tailFrames / 30).toBeLessThan(3);
    expect(take.verdict?.sentence).toMatch(/^Rescued: \d/);
    expect(server.services.live.state().notice?.text).toMatch(/rescued.*are lost/);
    expect(existsSync(take.filePath)).toBe(true);
    await expectNextTrialWorks(setup.id);
  });

  it('a recorder that hangs is noticed, ended and rescued', async () => {
    const setup = await server.smallSetup();
    const take = await harm(setup.id, () => process.kill(server.services.recorder.enginePid() ?? 0, 'SIGSTOP'));
    expect(take).toMatchObject({ state: 'rescued', end: 'engine-hung' });
    expect(take.facts?.picture.packets).toBe(take.summary?.filed);
    await expectNextTrialWorks(setup.id);
  });

  it('a folder that vanishes: the take ends, and every byte is kept in the data folder', async () => {
    const folder = join(server.folder, 'stick');
    mkdirSync(folder);
    const drive = await server.services.drives.add({ name: 'Stick', folder, quotaBytes: null, make: false });
    const setup = await server.smallSetup((draft) => ({ ...draft, driveId: drive.id }));
    const take = await harm(setup.id, () => rmSync(folder, { recursive: true }));
    expect(take).toMatchObject({ state: 'rescued', end: 'drive-gone', tailFrames: 0 });
    expect(take.filePath.startsWith(server.services.folders.takes)).toBe(true);
    expect(take.facts?.picture.packets).toBe(take.summary?.filed);
    await expect(server.services.recorder.startTrial(setup.id, 2)).rejects.toThrow(/is not there/);
    await server.services.setups.setDraft(setup.id, { ...setup.draft, driveId: 'footage' });
    await expectNextTrialWorks(setup.id);
  });

  it('a drive that gets full: the take ends with what fitted, and a full drive is told before the next', async () => {
    const folder = join(server.folder, 'tiny');
    const drive = await server.services.drives.add({ name: 'Tiny', folder, quotaBytes: 700_000, make: true });
    const setup = await server.smallSetup((draft) => ({
      ...draft,
      driveId: drive.id,
      encode: { ...draft.encode, rateControl: 'constant-bitrate', bitrateKbps: 1500 },
    }));
    const begun = await server.services.recorder.startTrial(setup.id, 60);
    const take = await server.untilEnded(begun.id);
    expect(take).toMatchObject({ state: 'rescued', end: 'drive-full' });
    expect(take.facts?.picture.packets).toBeGreaterThan(20);
    expect(take.verdict?.sentence).toMatch(/^Rescued/);
    await server.services.setups.setDraft(setup.id, { ...setup.draft, driveId: 'footage' });
    await expectNextTrialWorks(setup.id);
  });

  it('a trial stopped early is closed and kept', async () => {
    const setup = await server.smallSetup();
    const take = await harm(setup.id, () => server.services.recorder.stop(), 1.2);
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
