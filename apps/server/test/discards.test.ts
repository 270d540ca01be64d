import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { partsOf, problemSchema, removalSchema, takeSchema, type Recipe, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
let today = new Date();
let base: string;
let other: string;
beforeAll(async () => {
  server = await openTestServer({ discards: { now: () => today } });
  base = mkdtempSync(join(tmpdir(), 'mellow-discards-'));
  other = (
    await server.services.drives.add({ name: 'other', folder: join(base, 'other'), quotaBytes: null, make: true })
  ).id;
});
afterAll(async () => {
  await server.close();
  rmSync(base, { recursive: true, force: true });
});
beforeEach(() => void (today = new Date()));

const api = () => request(server.url);
const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const dayMs = 86_400_000;
async function trial(recipe: (draft: Recipe) => Recipe, lengthS = 2, kind: 'trial' | 'full' = 'trial'): Promise<Take> {
  const setup = await server.smallSetup(recipe);
  return server.untilEnded((await server.services.recorder.startTrial(setup.id, lengthS, kind)).id);
}
const asked = async (what: string, take: Take): Promise<Take> =>
  takeSchema.parse((await api().post(`/api/takes/${take.id}/${what}`)).body);
/** By two pages at once: the second may be refused, and changes nothing. */
async function askedTwice(what: string, take: Take): Promise<Take> {
  await Promise.all([1, 2].map(() => api().post(`/api/takes/${take.id}/${what}`)));
  return server.services.takes.get(take.id);
}
const refused = async (what: string, take: Take): Promise<string> => {
  const { text } = await api().post(`/api/takes/${take.id}/${what}`);
  return problemSchema.parse(JSON.parse(text)).detail;
};
const byRole = (take: Take) => Object.fromEntries(take.files.map(({ role, path }) => [role, path]));

it('a proven MP4 takes the place of a take, which can be brought back, and goes after a week', async () => {
  const take = await trial((draft) => ({ ...draft, rewrap: true }));
  const { take: source = '', copy = '' } = byRole(take);
  const hash = hashOf(source);
  const kept = await asked('discard', take);
  expect(kept).toMatchObject({ filePath: copy, state: 'closed', summary: take.summary, verdict: { mark: 'keep' } });
  expect(byRole(kept)).toEqual({ take: copy, discard: source });
  expect((await api().get(`/api/takes/${take.id}/file`)).headers['content-disposition']).toContain('.mp4');
  expect((await api().get(`/api/takes/${take.id}/media?lane=0`)).status).toBe(200);
  expect(await refused('discard', take)).toMatch(/lie in the discards already/);
  const back = await asked('bring-back', take);
  expect(back).toMatchObject({ filePath: take.filePath, fileName: take.fileName, discarded: null });
  expect(byRole(back)).toEqual({ take: source, copy });
  expect(await refused('bring-back', take)).toMatch(/nothing in the discards/);
  await asked('discard', take);
  today = new Date(Date.now() + 6.9 * dayMs);
  server.services.discards.begin();
  await new Promise((resolve) => setImmediate(resolve));
  expect(hashOf(source)).toBe(hash);
  today = new Date(Date.now() + 7.1 * dayMs);
  const emptied = new Promise<void>((resolve) => {
    const stop = server.services.live.listen(() => {
      if (existsSync(source)) return;
      stop();
      resolve();
    });
  });
  server.services.discards.begin();
  await emptied;
  const left = await server.services.takes.get(take.id);
  expect(left).toMatchObject({ discarded: null, filePath: copy, verdict: { mark: 'keep' } });
  expect(byRole(left)).toEqual({ take: copy });
  expect(await refused('bring-back', take)).toMatch(/nothing in the discards/);
  const removal = removalSchema.parse((await api().delete(`/api/takes/${take.id}`)).body);
  expect(removal).toEqual({ removed: [copy], left: [] });
}, 60_000);

it('a recipe can ask for it: the take is its MP4 when it has ended', async () => {
  const take = await trial((draft) => ({ ...draft, rewrap: true, discardSource: true }));
  expect(take.filePath).toMatch(/\.mp4$/);
  expect(take).toMatchObject({ verdict: { mark: 'keep' }, facts: { picture: { packets: 60 } } });
  expect(await server.services.takes.bytesOnDrive(take.driveId)).toBeGreaterThan(take.files[0]?.bytes ?? 0);
  const removal = removalSchema.parse((await api().delete(`/api/discards?take=${take.id}`)).body);
  expect(removal.removed).toHaveLength(1);
  expect((await server.services.takes.get(take.id)).discarded).toBeNull();
  expect(removalSchema.parse((await api().delete('/api/discards')).body)).toEqual({ removed: [], left: [] });
});

it('a copy that is not the take discards nothing', async () => {
  const take = await trial((draft) => ({ ...draft, rewrap: true }));
  const { copy = '' } = byRole(take);
  const bytes = readFileSync(copy);
  const at = bytes.indexOf('mdat') + 5000;
  bytes[at] = (bytes[at] ?? 0) ^ 4;
  // Written into the same file: its identity is what it was.
  writeFileSync(copy, bytes);
  expect(await refused('discard', take)).toMatch(
    /does not hold all of the take: Its .* byte by byte\. Nothing was discarded\./,
  );
  rmSync(copy);
  writeFileSync(copy, 'mine');
  expect(await refused('discard', take)).toMatch(/another file is\. Nothing was discarded\./);
  rmSync(copy);
  expect(await refused('discard', take)).toMatch(/not at .* any more/);
  const plain = await trial((draft) => draft);
  expect(await refused('discard', plain)).toMatch(/Nothing was made of this take yet/);
  expect(await server.services.takes.get(take.id)).toMatchObject({ filePath: take.filePath, discarded: null });
});

it.each(['striped', 'length'] as const)('the files of a take in pieces (%s) go and come back together', async (by) => {
  const take = await trial(
    (draft) => ({
      ...draft,
      encode: { ...draft.encode, keyDistanceFrames: 30 },
      nextDriveIds: by === 'striped' ? [other] : [],
      parts: by === 'striped' ? { by, shares: 'equal' } : { by, minutes: 0.1 },
    }),
    by === 'striped' ? 2 : 8,
    by === 'striped' ? 'trial' : 'full',
  );
  expect(partsOf(take)).toHaveLength(2);
  expect((await api().post(`/api/takes/${take.id}/rewrap`).send({ into: 'mp4' })).status).toBe(200);
  // Two pages ask at once, for the one and for the other.
  const kept = await askedTwice('discard', take);
  expect(kept.stripes).toBeNull();
  expect(partsOf(kept).map(({ path }) => path)).toEqual([kept.filePath]);
  expect((await api().get(`/api/takes/${take.id}/media?lane=0`)).status).toBe(200);
  const back = await askedTwice('bring-back', take);
  expect(back).toMatchObject({ filePath: take.filePath, stripes: take.stripes });
  expect(back.files.filter(({ role }) => role === 'copy')).toHaveLength(1);
  expect(partsOf(back)).toEqual(partsOf(take));
  expect(await server.services.takes.readable(take.id)).toBeTruthy();
});

it('what took a take’s place is gone: the discards are all that is left, and stay', async () => {
  const take = await trial((draft) => ({ ...draft, rewrap: true, discardSource: true }));
  const { take: mp4 = '', discard = '' } = byRole(take);
  renameSync(mp4, `${mp4}.elsewhere`);
  const kept = removalSchema.parse((await api().delete(`/api/discards?take=${take.id}`)).body);
  expect(kept.removed).toEqual([]);
  expect(kept.left).toEqual([
    { path: discard, why: expect.stringContaining('this may be all that is left') as string },
  ]);
  writeFileSync(mp4, 'mine');
  expect(removalSchema.parse((await api().delete('/api/discards')).body)).toMatchObject({ removed: [] });
  expect(existsSync(discard)).toBe(true);
  // Brought back, it is the take again.
  expect(byRole(await asked('bring-back', take))).toMatchObject({ take: discard });
  expect((await api().get(`/api/takes/${take.id}/media?lane=0`)).status).toBe(200);
});

it('emptying and bringing back at once end in one of the two', async () => {
  const take = await trial((draft) => ({ ...draft, rewrap: true, discardSource: true }));
  const { take: mp4 = '', discard = '' } = byRole(take);
  await Promise.all([asked('bring-back', take), api().delete('/api/discards')]);
  const now = await server.services.takes.get(take.id);
  expect(now.filePath).toBe(discard);
  expect([existsSync(discard), existsSync(mp4)]).toEqual([true, true]);
});

it('what trials play stays, and what lies on a drive that is away waits for it', async () => {
  const take = await trial((draft) => ({ ...draft, rewrap: true }));
  await server.services.samples.playFrom(take.id);
  expect(await refused('discard', take)).toMatch(/Trials of Small play this file/);
  await server.services.setups.setSample(take.setupId, null);
  const away = await trial((draft) => ({ ...draft, driveId: other, rewrap: true, discardSource: true }));
  const { discard = '' } = byRole(away);
  renameSync(join(base, 'other'), join(base, 'unplugged'));
  const removal = removalSchema.parse((await api().delete('/api/discards')).body);
  expect(removal.removed).toEqual([]);
  expect(removal.left.map(({ path }) => path)).toEqual([discard]);
  expect(await refused('bring-back', away)).toMatch(/not there any more/);
  renameSync(join(base, 'unplugged'), join(base, 'other'));
  expect(removalSchema.parse((await api().delete('/api/discards')).body)).toEqual({ removed: [discard], left: [] });
});
