import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { endedStates, type LiveState, type Take } from '@mellow/model';
import { hashesOf, openProgram, until, type Program, type Started } from '../test/support/program';

/**
 * Kills at every phase, of the server, of the recorder, of both; three times each by "npm run soak". A take that had a closed file is never
 * lost, a crash-safe one loses 2 s at most, and no other file changes.
 */
// Longer than the longest wait within, so that what was waited for is told.
jest.setTimeout(240_000);

const times = process.env['MELLOW_SOAK'] === '1' ? [1, 2, 3] : [1];

let program: Program;
let running: Started;
let surroundings: Record<string, string> = {};

async function openWith(env: Record<string, string> = {}, args?: string[]): Promise<void> {
  program = await openProgram();
  surroundings = env;
  running = program.start(env, args);
  if (!args) await program.serving();
}

/** Ends the server where it stands, and starts it again on the same data. */
async function restart(args?: string[]): Promise<void> {
  running.child.kill('SIGKILL');
  await running.exited;
  running = program.start(surroundings, args);
  await program.serving();
}

const phases = ['baseline', 'warm-up', 'rolling', 'closing', 'reading back'] as const;
type Phase = (typeof phases)[number];
const victims = ['recorder', 'server', 'both'] as const;

/** When a phase is on, as far as anybody outside can tell. */
function isOn(phase: Phase, takeId: string): (state: LiveState) => boolean {
  const folder = join(program.folder, 'takes', takeId);
  return (state) => {
    const take = state.take;
    if (!take) return phase === 'closing' || phase === 'reading back';
    switch (phase) {
      case 'baseline':
        return take.state === 'baseline';
      case 'warm-up':
        return take.state === 'rolling' && take.elapsedUs === 0;
      case 'rolling':
        return take.elapsedUs > 2.2e6;
      case 'closing':
        return take.state === 'closing' || existsSync(join(folder, 'closing.json'));
      case 'reading back':
        return existsSync(join(folder, 'closing.json'));
    }
  };
}

const kill = (pid: number): void => {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It was quicker.
  }
};

/** Kills one take, and rolls the next at once. Everything that lay there before is compared by its bytes. */
async function killAt(phase: Phase, victim: (typeof victims)[number], setupId: string): Promise<void> {
  const before = await hashesOf(join(program.folder, 'footage'));
  const closedBefore = (await program.takes()).filter((take) => take.state === 'closed').map((take) => take.id);
  expect(closedBefore.length).toBeGreaterThan(0);
  const lengthS = phase === 'closing' || phase === 'reading back' ? 2 : 30;
  const take = (await program.post(`/setups/${setupId}/trials`, { lengthS })) as Take;
  await program.live(isOn(phase, take.id));
  const elapsedUs = ((await program.api('/state')) as LiveState).take?.elapsedUs ?? 2e6;
  const wasClosed = existsSync(join(program.folder, 'takes', take.id, 'closing.json'));
  if (victim !== 'server' && existsSync(join(program.folder, 'takes', take.id, 'header.json')))
    kill(program.recorderOf(take.id));
  if (victim !== 'recorder') await restart();
  await program.idle();
  const after = await program.take(take.id);
  expect(endedStates).toContain(after.state);
  const now = await hashesOf(join(program.folder, 'footage'));
  for (const [path, hash] of before) expect(now.get(path)).toBe(hash);
  for (const id of closedBefore) expect((await program.take(id)).state).toBe('closed');
  if (wasClosed) expect(after).toMatchObject({ state: 'closed', tailFrames: 0 });
  if (after.facts) {
    const keptS = (after.facts.picture.endUs ?? 0) / 1e6;
    if (phase === 'rolling') expect(keptS).toBeGreaterThan(elapsedUs / 1e6 - 2);
    expect(after.facts.picture.packets).toBe(after.summary?.filed);
  } else {
    expect(['baseline', 'warm-up', 'closing']).toContain(phase);
    expect(after.state).toBe('failed');
  }
  expect(
    readdirSync(join(program.folder, 'footage'), { recursive: true }).filter((n) => String(n).includes('.part-')),
  ).toEqual([]);
  // And the next trial can be made at once; it is what lies there when the next is killed.
  const next = (await program.post(`/setups/${setupId}/trials`, { lengthS: 2 })) as Take;
  await program.idle();
  expect((await program.take(next.id)).state).toBe('closed');
}

describe.each([...phases])('killed in %s', (phase) => {
  let setupId = '';
  beforeAll(async () => {
    // Long enough that it can be told which phase is on.
    await openWith({ MELLOW_BASELINE_S: '0.3', MELLOW_WARM_UP_S: '1.5' });
    // An earlier take, a file of a person's own where the next one would like to lie.
    setupId = (await program.smallSetup()).id;
    await program.post(`/setups/${setupId}/trials`, { lengthS: 2 });
    await program.idle();
  });
  afterAll(() => program.close());
  describe.each([...victims])('%s', (victim) => {
    it.each(times)('time %d', () => killAt(phase, victim, setupId));
  });
});

describe('killed in work on files', () => {
  afterEach(() => program.close());

  it.each(times)('re-wrap, server: the take stays, no copy is half there (time %d)', async () => {
    await openWith();
    const setup = await program.smallSetup();
    const take = (await program.post(`/setups/${setup.id}/trials`, { lengthS: 6 })) as Take;
    await program.idle();
    const before = await hashesOf(join(program.folder, 'footage'));
    void program.post(`/takes/${take.id}/rewrap`).catch(() => null);
    await program.live((state) => state.jobs.length > 0);
    await restart();
    await program.idle();
    const now = await hashesOf(join(program.folder, 'footage'));
    for (const [path, hash] of before) expect(now.get(path)).toBe(hash);
    expect((await program.take(take.id)).state).toBe('closed');
    const copied = (await program.post(`/takes/${take.id}/rewrap`)) as Take;
    expect(copied.files.filter((file) => file.role === 'copy')).toHaveLength(1);
  });

  it('proving, server: the next start proves again', async () => {
    await openWith();
    void program.post('/machines/this/prove').catch(() => null);
    await program.live((state) => state.jobs.length > 0);
    await restart();
    const sheet = (await program.post('/machines/this/prove')) as { encoders: { encoder: string; works: boolean }[] };
    expect(sheet.encoders.find((e) => e.encoder === 'avc-software')?.works).toBe(true);
  });

  it.each(times)('the demo coming in: the next start brings the rest (time %d)', async (time) => {
    await openWith({}, []);
    await until(() => (existsSync(join(program.folder, 'demo/media')) ? true : null));
    await until(() => (readdirSync(join(program.folder, 'demo/media')).length >= time * 2 ? true : null));
    await restart([]);
    const all = await until(async () => {
      const state = (await program.api('/demo')) as { present: boolean; takes: number };
      return state.present ? state : null;
    });
    expect(all.takes).toBeGreaterThanOrEqual(13);
    expect(new Set((await program.takes()).map((take) => take.id)).size).toBe((await program.takes()).length);
    for (const take of await program.takes()) expect(existsSync(take.filePath)).toBe(true);
  });
});
