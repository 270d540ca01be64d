import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { partsOf, type Drive, type Take } from '@mellow/model';
import { hashesOf, openProgram, until, type Program, type Started } from '../test/support/program';

/**
 * The server is killed at any moment of work on files, and started again: no take that had a closed file is lost, no closed file changes,
 * every file among the footage is a take's, and the work can be done again. Which step it is stands in journalKills.test.ts of the
 * engine; here it is whatever it is.
 */
jest.setTimeout(240_000);
const times = process.env['MELLOW_SOAK'] === '1' ? [1, 2, 3, 4, 5, 6] : [1, 2];

let program: Program;
let running: Started;
beforeEach(async () => {
  program = await openProgram();
  running = program.start();
  await program.serving();
});
afterEach(() => {
  program.close();
  rmSync(elsewhere(), { recursive: true, force: true });
});
/** A folder that is none of the program's own. */
const elsewhere = (): string => `${program.folder}-moved`;

async function killAndRestart(afterMs: number): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, afterMs));
  running.child.kill('SIGKILL');
  await running.exited;
  running = program.start();
  await program.serving();
  await program.live((state) => state.recorder === 'idle' && state.jobs.length === 0);
}
const filesBelow = (folder: string): string[] =>
  existsSync(folder)
    ? readdirSync(folder, { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile() && !entry.name.startsWith('.mellow'))
        .map((entry) => join(entry.parentPath, entry.name))
    : [];

/** Every file is somebody's, every take's own file is there, and no journal is left. */
async function expectNothingAstray(folders: readonly string[]): Promise<void> {
  const owned = (await program.takes()).flatMap(({ files }) => files.map(({ path }) => path));
  expect(folders.flatMap(filesBelow).filter((path) => !owned.includes(path))).toEqual([]);
  for (const take of await program.takes())
    for (const { path } of partsOf(take))
      expect([path, existsSync(path) && statSync(path).size > 0]).toEqual([path, true]);
  expect(readdirSync(join(program.folder, 'journals'))).toEqual([]);
}
const footage = (): string => join(program.folder, 'footage');
const trial = async (setupId: string, lengthS = 3, kind = 'trial'): Promise<Take> => {
  const { id } = (await program.post(`/setups/${setupId}/trials`, { lengthS, kind })) as Take;
  await program.idle();
  return program.take(id);
};
/** Asked for, and not waited for: the server will not be there to answer. */
const ask = (path: string, body: unknown = {}): void => void program.post(path, body).catch(() => null);
const moments = times.map((time) => time * 60 - 40);

it.each(moments)('parts are joined, killed after %d ms', async (ms) => {
  const setup = await program.smallSetup((draft) => ({ ...draft, parts: { by: 'length', minutes: 0.1 } }));
  const take = await trial(setup.id, 8, 'full');
  expect(partsOf(take).length).toBeGreaterThan(1);
  const before = await hashesOf(footage());
  ask(`/takes/${take.id}/rewrap`, { into: 'mkv' });
  await killAndRestart(ms);
  const now = await hashesOf(footage());
  for (const [path, hash] of before) expect(now.get(path)).toBe(hash);
  await expectNothingAstray([footage()]);
  const joined = (await program.post(`/takes/${take.id}/rewrap`, { into: 'mkv' })) as Take;
  expect(joined.files.filter(({ role }) => role === 'copy')).toHaveLength(1);
  await expectNothingAstray([footage()]);
});

it.each(moments)(
  'a copy takes the place of its take and is brought back or emptied, killed after %d ms',
  async (ms) => {
    const take = await trial((await program.smallSetup()).id);
    await program.post(`/takes/${take.id}/rewrap`);
    ask(`/takes/${take.id}/discard`);
    await killAndRestart(ms);
    await expectNothingAstray([footage()]);
    const now = await program.take(take.id);
    const discarded = now.discarded ? now : ((await program.post(`/takes/${take.id}/discard`)) as Take);
    expect(discarded.files.map(({ role }) => role).sort()).toEqual(['discard', 'take']);
    void program.api(`/discards?take=${take.id}`, { method: 'DELETE' }).catch(() => null);
    await killAndRestart(ms % 20);
    await expectNothingAstray([footage()]);
  },
);

it.each(moments)('takes are moved and deleted, killed after %d ms', async (ms) => {
  const setup = await program.smallSetup();
  const takes = [await trial(setup.id, 2), await trial(setup.id, 2), await trial(setup.id, 2)];
  const hashes = new Set((await hashesOf(footage())).values());
  const folder = elsewhere();
  const { id } = (await program.post('/drives', { name: 'There', folder, quotaBytes: null, make: true })) as Drive;
  ask('/drives/footage/move', { to: id });
  await killAndRestart(ms);
  expect(
    new Set(
      [...(await hashesOf(footage())).values(), ...(await hashesOf(folder)).values()].filter((hash) =>
        hashes.has(hash),
      ),
    ),
  ).toEqual(hashes);
  await expectNothingAstray([footage(), folder]);
  void program.api(`/takes/${takes[0]!.id}`, { method: 'DELETE' }).catch(() => null);
  await killAndRestart(ms % 20);
  await expectNothingAstray([footage(), folder]);
  for (const take of await program.takes()) await program.api(`/takes/${take.id}`, { method: 'DELETE' });
  await expectNothingAstray([footage(), folder]);
});

it.each(moments)(
  'the last minutes are kept, killed after %d ms: the clip is there once, or what was held is',
  async (ms) => {
    const setup = await program.smallSetup();
    await program.api(`/setups/${setup.id}`, {
      method: 'PATCH',
      body: JSON.stringify({ hindsight: { lengthS: 60, where: 'drive' } }),
    });
    await program.post('/hindsight/on', { setupId: setup.id });
    await program.live((state) => (state.watching?.held?.heldS ?? 0) > 3);
    ask('/recorder/keep', { lastS: 2 });
    await killAndRestart(ms);
    // What was held becomes a clip of its own, and its pieces go.
    const clips = await until(async () => {
      if (filesBelow(join(footage(), '.hindsight')).length) return null;
      const found = (await program.takes()).filter(({ kind, state }) => kind === 'clip' && state === 'closed');
      return found.some(({ facts }) => (facts?.picture.endUs ?? 0) > 2.5e6) ? found : null;
    });
    expect(clips.length).toBeLessThanOrEqual(2);
    await expectNothingAstray([footage()]);
  },
);
