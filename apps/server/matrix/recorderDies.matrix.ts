import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { expectNextTrialWorks, harm } from '../test/support/harm';
import { openTestServer, type TestServer } from '../test/support/testServer';

jest.setTimeout(240_000);

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 1500, trialClock: 'real' })));
afterAll(() => server.close());

describe('if it dies', () => {
  it('a recorder that hangs is noticed, ended and rescued', async () => {
    const setup = await server.smallSetup();
    const take = await harm(server, setup.id, () => process.kill(server.services.recorder.enginePid() ?? 0, 'SIGSTOP'));
    expect(take).toMatchObject({ state: 'rescued', end: 'engine-hung' });
    expect(take.facts?.picture.packets).toBe(take.summary?.filed);
    await expectNextTrialWorks(server, setup.id);
  });

  it('a folder that vanishes: the take ends, and every byte is kept in the data folder', async () => {
    const folder = join(server.folder, 'stick');
    mkdirSync(folder);
    const drive = await server.services.drives.add({ name: 'Stick', folder, quotaBytes: null, make: false });
    const setup = await server.smallSetup((draft) => ({ ...draft, driveId: drive.id }));
    const take = await harm(server, setup.id, () => rmSync(folder, { recursive: true }));
    expect(take).toMatchObject({ state: 'rescued', end: 'drive-gone', tailFrames: 0 });
    expect(take.filePath.startsWith(server.services.folders.takes)).toBe(true);
    expect(take.facts?.picture.packets).toBe(take.summary?.filed);
    await expect(server.services.recorder.startTrial(setup.id, 2)).rejects.toThrow(/is not there/);
    await server.services.setups.setDraft(setup.id, { ...setup.draft, driveId: 'footage' });
    await expectNextTrialWorks(server, setup.id);
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
    await expectNextTrialWorks(server, setup.id);
  });
});
