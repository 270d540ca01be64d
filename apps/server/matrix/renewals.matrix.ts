import { openTestServer } from '../test/support/testServer';

// Longer than the longest wait within, so that what was waited for is told.
jest.setTimeout(240_000);

describe('a recorder that has made its takes', () => {
  it('is replaced by a fresh one, and nobody notices', async () => {
    const other = await openTestServer({ takesPerRecorder: 1, trialClock: 'real' });
    const setup = await other.smallSetup();
    const pids: (number | null)[] = [];
    for (let i = 0; i < 3; i++) {
      const begun = await other.services.recorder.startTrial(setup.id, 2);
      await other.untilLive((state) => state.recorder === 'rolling');
      pids.push(other.services.recorder.enginePid());
      expect((await other.untilEnded(begun.id)).state).toBe('closed');
    }
    expect(new Set(pids).size).toBe(3);
    expect(other.services.live.state().notice).toBeNull();
    await other.close();
  });
});
