import { createHash } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { reserveNoted, runMediaJob } from '@mellow/engine';
import { endedStates, type Take } from '@mellow/model';
import { goOnWithFiles } from '../src/footage/goOnWithFiles';
import { createJournals } from '../src/files/journals';
import { openTestServer, type TestServer } from './support/testServer';

/**
 * Work on files that ends between a step on the drive and the row that tells of it: the data folder is full, or the server dies. No file
 * is orphaned, forgotten or declared gone.
 */
let server: TestServer;
const folders: string[] = [];
beforeAll(async () => void (server = await openTestServer()));
afterAll(async () => {
  await server.close();
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const journals = () => createJournals(server.services.folders.journals);
const goOn = () => goOnWithFiles({ ...server.services, journals: journals() });
const leftJournals = (): string[] => readdirSync(server.services.folders.journals);
const footage = (): string[] => readdirSync(server.services.folders.footage, { recursive: true }).map(String).sort();
async function trial(): Promise<Take> {
  const setup = await server.smallSetup();
  return server.untilEnded((await server.services.recorder.startTrial(setup.id, 1)).id);
}

/** Nothing more can be stored while work goes on. */
async function withFullData<T>(work: () => Promise<T>): Promise<T> {
  const { store } = server.services;
  const { write } = store;
  store.write = () => Promise.reject(new Error('database or disk is full'));
  try {
    return await work();
  } finally {
    store.write = write;
  }
}

it('a copy that cannot be stored is not left, and can be made again', async () => {
  const take = await trial();
  const before = footage();
  const made = withFullData(() => server.services.recorder.rewrap(take.id, 'mp4'));
  await expect(made).rejects.toThrow(/full/);
  expect(footage()).toEqual(before);
  expect(leftJournals()).toEqual([]);
  const copied = await server.services.recorder.rewrap(take.id, 'mp4');
  expect(copied.files.map(({ role }) => role)).toEqual(['take', 'copy']);
  // What is stored stays, although its journal was not taken away any more.
  const copy = copied.files[1]!;
  journals().open().note({ step: 'remade', path: copy.path, identity: copy.identity! });
  await goOn();
  expect(existsSync(copy.path)).toBe(true);
  expect(leftJournals()).toEqual([]);
}, 60_000);

it('a copy that was finished when the server died is made again', async () => {
  const take = await trial();
  const before = footage();
  const outPath = take.filePath.replace('.mkv', ' late.mp4');
  const { path: journal } = journals().open();
  const job = { kind: 'rewrap', filePath: take.filePath, outPath, rate: take.recipe.rate, asIs: false } as const;
  await runMediaJob(job, { journal });
  expect(existsSync(outPath)).toBe(true);
  await goOn();
  expect(footage()).toEqual(before);
  expect(leftJournals()).toEqual([]);
  expect(await server.services.takes.get(take.id)).toMatchObject({ state: 'closed', filePath: take.filePath });
}, 60_000);

// One of them between two file systems: a RAM disk is one everywhere on Linux.
it.each(process.platform === 'linux' ? [tmpdir(), '/dev/shm'] : [tmpdir()])(
  'a move into %s of which nobody could store the end is known at the next start, and so is it to whoever plays it',
  async (base) => {
    const { drives, takes, setups, moveTakes } = server.services;
    const take = await trial();
    const hash = hashOf(take.filePath);
    const player = await server.smallSetup();
    await server.services.samples.choose(player.id, { from: 'file', path: take.filePath });
    const [lies, folder] = [base, tmpdir()].map((one) => join(mkdtempSync(join(one, 'mellow-cut-')), 'takes')) as [
      string,
      string,
    ];
    folders.push(lies, folder);
    const there = await drives.add({ name: base, folder, quotaBytes: null, make: true });
    // Such a disk may not be chosen; what was chosen may come to lie on one.
    cpSync(folder, lies, { recursive: true });
    rmSync(folder, { recursive: true });
    symlinkSync(lies, folder);
    // Everything until the file lies there is stored, and nothing afterwards.
    const { store } = server.services;
    const { write } = store;
    store.write = (work) =>
      existsSync(take.filePath) ? write(work) : Promise.reject(new Error('database or disk is full'));
    const moved = await moveTakes(take.driveId, there.id).finally(() => (store.write = write));
    expect(moved.left).toContainEqual({ path: take.filePath, why: expect.stringMatching(/full/) as string });
    expect(existsSync(take.filePath)).toBe(false);
    // The drive it has gone to is away at that start: nothing is declared, nothing is forgotten.
    renameSync(lies, `${lies} away`);
    await goOn();
    expect((await takes.get(take.id)).files[0]).toHaveProperty('movingTo');
    // A file that only got another name is known by its identity; a copy by what was written down of it.
    expect(leftJournals()).toHaveLength(base === '/dev/shm' ? 1 : 0);
    renameSync(`${lies} away`, lies);
    await goOn();
    const found = await takes.get(take.id);
    expect(found).toMatchObject({ driveId: there.id, files: [{ driveId: there.id }] });
    expect(found.files[0]).not.toHaveProperty('movingTo');
    expect(hashOf(found.filePath)).toBe(hash);
    expect((await setups.get(player.id)).sample?.path).toBe(found.filePath);
    expect(leftJournals()).toEqual([]);
    await setups.setSample(player.id, null);
    await moveTakes(there.id, take.driveId);
  },
  60_000,
);

it('what was being deleted is deleted, what was being emptied is emptied', async () => {
  const { takes, discards, recorder } = server.services;
  const [gone, emptied] = [await trial(), await trial()];
  await recorder.rewrap(emptied.id, 'mp4');
  await discards.discard(emptied.id);
  await expect(withFullData(() => takes.remove(gone.id))).rejects.toThrow(/full/);
  await expect(withFullData(() => discards.empty(emptied.id))).rejects.toThrow(/full/);
  expect([existsSync(gone.filePath), existsSync(emptied.filePath)]).toEqual([false, false]);
  await goOn();
  expect((await takes.list()).some(({ id }) => id === gone.id)).toBe(false);
  const left = await takes.get(emptied.id);
  expect(left).toMatchObject({ discarded: null, files: [{ role: 'take' }] });
  expect(existsSync(left.filePath)).toBe(true);
  expect(leftJournals()).toEqual([]);
}, 60_000);

it('of a take whose drive is away nothing is removed by a start, and nothing forgotten', async () => {
  const { takes } = server.services;
  const take = await trial();
  await takes.update(take.id, (now) => ({
    files: now.files.map((file) => ({ ...file, path: join(tmpdir(), 'away', 'a.mkv') })),
  }));
  journals().open().note({ step: 'removing', takeId: take.id });
  await goOn();
  expect(await takes.get(take.id)).toMatchObject({ number: take.number });
  expect(existsSync(take.filePath)).toBe(true);
}, 60_000);

it('a take that cannot be stored leaves no file, and neither does a server that dies before it is', async () => {
  const setup = await server.smallSetup();
  const before = footage();
  await expect(withFullData(() => server.services.recorder.startTrial(setup.id, 1))).rejects.toThrow(/full/);
  expect(footage()).toEqual(before);
  expect(leftJournals()).toEqual([]);
  const reserved = reserveNoted(join(server.services.folders.footage, 'early.mkv'), journals().open().note);
  expect(statSync(reserved.path).size).toBe(0);
  await goOn();
  expect(footage()).toEqual(before);
  const next = await server.untilEnded((await server.services.recorder.startTrial(setup.id, 1)).id);
  expect(endedStates).toContain(next.state);
  expect(next.state).toBe('closed');
}, 60_000);
