import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import request from 'supertest';
import { moveFile, reserveFile, identityOfPath } from '@mellow/engine';
import { driveSchema, movedTakesSchema, problemSchema, type Take } from '@mellow/model';
import { settleMoves } from '../src/footage/moveTakes';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
const folders: string[] = [];
const folderIn = (base: string): string => {
  folders.push(mkdtempSync(join(base, 'mellow-move-')));
  return folders.at(-1) ?? '';
};
beforeAll(async () => void (server = await openTestServer()));
afterAll(async () => {
  await server.close();
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
});

const api = () => request(server.url);
const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const addDrive = async (name: string, folder: string) =>
  driveSchema.parse((await api().post('/api/drives').send({ name, folder })).body);
const trial = async (setupId: string): Promise<Take> =>
  server.untilEnded((await server.services.recorder.startTrial(setupId, 2)).id);

it('moves takes with their copies and subfolders, to a name that is free, and they are played, measured and deleted there', async () => {
  const setup = await server.smallSetup((draft) => ({ ...draft, rewrap: true }));
  const take = await trial(setup.id);
  const hashes = take.files.map(({ path }) => hashOf(path));
  const there = await addDrive('There', folderIn(tmpdir()));
  // A file of somebody's own at the very name stays theirs.
  const own = join(there.folder, dirname(take.fileName), basename(take.fileName));
  reserveFile(own);
  writeFileSync(own, 'mine');
  const reply = await api().post(`/api/drives/${take.driveId}/move`).send({ to: there.id });
  expect(movedTakesSchema.parse(reply.body)).toEqual({ moved: 2, left: [] });
  const moved = await server.services.takes.get(take.id);
  expect(moved.filePath).toBe(own.replace('.mkv', ' 2.mkv'));
  expect(moved.driveId).toBe(there.id);
  expect(moved.files.map(({ path }) => hashOf(path))).toEqual(hashes);
  expect(take.files.map(({ path }) => existsSync(path))).toEqual([false, false]);
  expect(readFileSync(own, 'utf8')).toBe('mine');
  expect((await api().get(`/api/takes/${take.id}/media?lane=0`)).status).toBe(200);
  expect(await server.services.takes.bytesOnDrive(take.driveId)).toBe(0);
  // A folder with takes cannot go from the list; after they are deleted it can.
  expect((await api().delete(`/api/drives/${there.id}`)).status).toBe(409);
  const removal = (await api().delete(`/api/takes/${take.id}`)).body as { left: unknown[] };
  expect(removal.left).toEqual([]);
  expect(existsSync(moved.filePath)).toBe(false);
  expect((await api().delete(`/api/drives/${there.id}`)).status).toBe(204);
}, 60_000);

it('says what stays and why, and refuses what makes no sense', async () => {
  const setup = await server.smallSetup();
  const [kept, replaced] = [await trial(setup.id), await trial(setup.id)];
  rmSync(replaced.filePath);
  writeFileSync(replaced.filePath, 'somebody else’s');
  const there = await addDrive('Elsewhere', folderIn(tmpdir()));
  const move = (from: string, to: string) => api().post(`/api/drives/${from}/move`).send({ to });
  expect((await move(kept.driveId, kept.driveId)).status).toBe(400);
  expect((await move(kept.driveId, 'nowhere')).status).toBe(404);
  const result = movedTakesSchema.parse((await move(kept.driveId, there.id)).body);
  expect(result.moved).toBe(1);
  expect(result.left).toEqual([{ path: replaced.filePath, why: expect.stringMatching(/Another file lies at/) }]);
  expect(readFileSync(replaced.filePath, 'utf8')).toBe('somebody else’s');
  // Nothing is left behind where nothing arrived.
  const after = await server.services.takes.get(replaced.id);
  expect(after.files.some(({ movingTo }) => movingTo)).toBe(false);
  expect(existsSync(join(there.folder, replaced.fileName))).toBe(false);
  rmSync(there.folder, { recursive: true });
  expect(problemSchema.parse((await move(kept.driveId, there.id)).body).detail).toContain('Nothing was moved');
}, 60_000);

it('a move that nobody saw the end of is settled at the next start, whichever side of it the file is on', async () => {
  const setup = await server.smallSetup();
  const [before, after, both, foreign] = [
    await trial(setup.id),
    await trial(setup.id),
    await trial(setup.id),
    await trial(setup.id),
  ];
  const { takes, drives, setups } = server.services;
  const there = await addDrive('Later', folderIn(tmpdir()));
  const reserved = [before, after, both].map(({ fileName }) => reserveFile(join(there.folder, fileName)));
  const targets = reserved.map(({ path }) => path);
  for (const [i, take] of [before, after, both].entries())
    await takes.update(take.id, ({ files }) => ({ files: files.map((file) => ({ ...file, movingTo: reserved[i]! })) }));
  renameSync(after.filePath, targets[1]!);
  // Its copy has arrived, and the first was not gone yet.
  copyFileSync(both.filePath, `${targets[2]!}.new`);
  renameSync(`${targets[2]!}.new`, targets[2]!);
  // Whatever else lies where the third was to go is somebody's.
  const strange = reserveFile(join(there.folder, 'strange.mkv'));
  await takes.update(foreign.id, ({ files }) => ({ files: files.map((file) => ({ ...file, movingTo: strange })) }));
  rmSync(strange.path);
  writeFileSync(strange.path, 'somebody else’s');
  await settleMoves({ takes, drives, setups }, [
    { step: 'proven', path: targets[2]!, identity: identityOfPath(targets[2]!) },
  ]);
  expect(await takes.get(foreign.id)).toMatchObject({ filePath: foreign.filePath });
  expect(existsSync(foreign.filePath)).toBe(true);
  expect(readFileSync(strange.path, 'utf8')).toBe('somebody else’s');
  expect(await takes.get(before.id)).toMatchObject({ filePath: before.filePath, driveId: before.driveId });
  expect(existsSync(targets[0]!)).toBe(false);
  const found = await takes.get(after.id);
  expect(found).toMatchObject({ filePath: targets[1], driveId: there.id, fileName: after.fileName });
  expect((await takes.get(both.id)).filePath).toBe(targets[2]);
  expect(existsSync(both.filePath)).toBe(false);
  expect((await api().delete(`/api/takes/${after.id}`)).body).toMatchObject({ removed: [targets[1]], left: [] });
}, 60_000);

it('between two file systems a file is copied, compared and only then gone', () => {
  const from = reserveFile(join(folderIn(tmpdir()), 'take.mkv'));
  const bytes = Buffer.alloc(9_000_001, 'abc');
  writeFileSync(from.path, bytes);
  const target = reserveFile(join(folderIn(tmpdir()), 'take.mkv'));
  const told: number[] = [];
  const noSteps = (): void => {};
  const refused = () => {
    throw Object.assign(new Error('another file system'), { code: 'EXDEV' });
  };
  const moved = moveFile(from.path, from.identity, target, (done, of) => told.push(done / of), noSteps, refused);
  expect(readFileSync(moved.path).equals(bytes)).toBe(true);
  expect(moved.path).toBe(target.path);
  expect(existsSync(from.path)).toBe(false);
  expect(told).toEqual([...told].sort((a, b) => a - b));
  expect(told.at(-1)).toBe(1);
  // And where the first name is somebody's by now: nothing goes, and the name that was reserved is given back.
  writeFileSync(from.path, 'new');
  const again = reserveFile(join(dirname(target.path), 'again.mkv'));
  expect(() => moveFile(from.path, from.identity, again, () => {})).toThrow(/Another file lies at/);
  expect([existsSync(again.path), readFileSync(from.path, 'utf8')]).toEqual([false, 'new']);
});
