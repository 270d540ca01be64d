import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import request from 'supertest';
import { plainPracticeGame } from '@mellow/core';
import { fileOf, type Recipe, type Take, type TakeName } from '@mellow/model';
import { takes } from '../src/db/schema';
import { openServices } from '../src/services/services';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 2000 })));
afterAll(() => server.close());

const hashOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const named =
  (...name: TakeName) =>
  (draft: Recipe): Recipe => ({ ...draft, file: { subfolder: 'none', name } });
const api = () => request(server.url);

async function trial(setupId: string, lengthS = 2): Promise<Take> {
  const begun = await server.services.recorder.startTrial(setupId, lengthS);
  return server.untilEnded(begun.id);
}

describe('names and files', () => {
  it('two setups whose takes would have one name get two files, and deleting one leaves the other', async () => {
    const one = await server.smallSetup(named({ word: 'kind' }, { word: 'number' }));
    const two = await server.smallSetup(named({ word: 'kind' }, { word: 'number' }));
    const first = await trial(one.id);
    const hash = hashOf(first.filePath);
    const second = await trial(two.id);
    expect([first, second].map((t) => t.state)).toEqual(['closed', 'closed']);
    expect(second.filePath).toBe(first.filePath.replace('trial 1.mkv', 'trial 1 2.mkv'));
    expect(hashOf(first.filePath)).toBe(hash);
    await server.services.takes.remove(second.id);
    expect([existsSync(first.filePath), existsSync(second.filePath)]).toEqual([true, false]);
    expect(hashOf(first.filePath)).toBe(hash);
  });

  it('a person’s own file at a name stays theirs: recording, copying and deleting pass it by', async () => {
    const setup = await server.smallSetup((draft) => ({
      ...named({ text: 'holiday' })(draft),
      rewrap: true,
    }));
    const own = join(server.services.folders.footage, 'holiday.mkv');
    const ownCopy = join(server.services.folders.footage, 'holiday 2.mp4');
    writeFileSync(own, 'mine');
    writeFileSync(ownCopy, 'mine too');
    const take = await trial(setup.id);
    const copy = fileOf(take, 'copy')?.path ?? '';
    expect(take.filePath.endsWith('holiday 2.mkv')).toBe(true);
    expect(copy.endsWith('holiday 2 2.mp4')).toBe(true);
    const removal = (await api().delete(`/api/takes/${take.id}`)).body as { removed: string[] };
    expect(removal.removed.sort()).toEqual([copy, take.filePath].sort());
    expect([readFileSync(own, 'utf8'), readFileSync(ownCopy, 'utf8')]).toEqual(['mine', 'mine too']);
    expect([existsSync(take.filePath), existsSync(copy)]).toEqual([false, false]);
  });

  it('a file that somebody has put in the place of a take’s is not deleted with it, and that is told', async () => {
    const setup = await server.smallSetup();
    const take = await trial(setup.id);
    rmSync(take.filePath);
    writeFileSync(take.filePath, 'another one');
    const { body } = await api().delete(`/api/takes/${take.id}`);
    expect(body).toEqual({ removed: [], left: [{ path: take.filePath, why: expect.stringMatching(/another file/) }] });
    expect(readFileSync(take.filePath, 'utf8')).toBe('another one');
  });

  it('deleting removes what the player made of a take', async () => {
    const setup = await server.smallSetup();
    const take = await trial(setup.id);
    expect((await api().get(`/api/takes/${take.id}/media`)).status).toBe(200);
    const cache = server.services.takes.cacheFolder(take.id);
    expect(existsSync(cache)).toBe(true);
    await api().delete(`/api/takes/${take.id}`);
    expect([existsSync(cache), existsSync(server.services.takes.folder(take.id))]).toEqual([false, false]);
  });

  it('numbers of deleted trials are not used again', async () => {
    const setup = await server.smallSetup();
    const first = await trial(setup.id);
    await server.services.takes.remove(first.id);
    expect((await trial(setup.id)).number).toBe(2);
  });
});

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
    for (const afterMs of [null, 0, 5, 60, 400]) {
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

describe('damage', () => {
  it('a row that cannot be read is told of, and everything else works', async () => {
    const setup = await server.smallSetup();
    const take = await trial(setup.id);
    await server.services.store.write((db) =>
      db.update(takes).set({ document: '{"id":"half a ta' }).where(eq(takes.id, take.id)),
    );
    expect((await api().get('/api/takes')).status).toBe(200);
    expect((await api().get('/api/drives')).status).toBe(200);
    expect((await api().get(`/api/takes/${take.id}`)).status).toBe(422);
    expect((await api().get('/api/broken-takes')).body).toEqual([
      expect.objectContaining({ id: take.id, number: take.number, why: 'its row is no JSON' }),
    ]);
    expect((await trial(setup.id)).state).toBe('closed');
    await api().delete(`/api/takes/${take.id}`);
    expect((await api().get('/api/broken-takes')).body).toEqual([]);
    expect(existsSync(take.filePath)).toBe(true);
  });

  it.each(['ledger.arrow', 'pyramid.arrow', 'losses.json'])('a broken %s is a sentence, not a crash', async (name) => {
    const setup = await server.smallSetup();
    const take = await trial(setup.id);
    const path = join(server.services.takes.folder(take.id), name);
    writeFileSync(path, 'no such thing');
    for (const part of ['ledger', 'pyramid?buckets=10', 'losses', 'ledger.csv', 'seconds', 'log']) {
      const response = await api().get(`/api/takes/${take.id}/${part}`);
      expect(response.status).toBeLessThan(500);
    }
    expect((await api().get(`/api/takes/${take.id}`)).status).toBe(200);
    // An empty ledger hides nothing: what was live is still there.
    truncateSync(path, 0);
    if (name === 'ledger.arrow')
      expect((await api().get(`/api/takes/${take.id}/ledger?from=0&to=10`)).body.dueUs).toHaveLength(10);
  });

  it('an empty header of an open take blocks nothing after a restart, and the take waits with the reason', async () => {
    const other = await openTestServer();
    const setup = await other.smallSetup();
    const begun = await other.services.recorder.startTrial(setup.id, 2);
    const take = await other.untilEnded(begun.id);
    const folder = other.services.takes.folder(take.id);
    await other.services.takes.update(take.id, { state: 'rolling', facts: null, summary: null, verdict: null });
    writeFileSync(join(folder, 'header.json'), '');
    rmSync(join(folder, 'closing.json'));
    const recovering = await other.services.recorder.recoverOrphans();
    await recovering.whole;
    const after = await other.services.takes.get(take.id);
    expect(after).toMatchObject({ state: 'waiting', endText: expect.stringMatching(/header\.json/) });
    expect(existsSync(take.filePath)).toBe(true);
    const next = await other.services.recorder.startTrial(setup.id, 2);
    expect((await other.untilEnded(next.id)).state).toBe('closed');
    await other.close();
  });

  it('a take whose drive is away waits for it, and is rescued when it is back', async () => {
    const other = await openTestServer();
    const folder = join(other.folder, 'stick');
    mkdirSync(folder);
    const drive = await other.services.drives.add({ name: 'Stick', folder, quotaBytes: null, make: false });
    const setup = await other.smallSetup((draft) => ({ ...draft, driveId: drive.id }));
    const begun = await other.services.recorder.startTrial(setup.id, 3);
    const take = await other.untilEnded(begun.id);
    const ledgerFolder = other.services.takes.folder(take.id);
    const { rows } = await other.services.takes.ledger(take.id);
    await other.services.takes.update(take.id, { state: 'rolling', facts: null, summary: null, verdict: null });
    rmSync(join(ledgerFolder, 'closing.json'));
    renameSync(folder, `${folder}.away`);
    await (
      await other.services.recorder.recoverOrphans()
    ).whole;
    expect(await other.services.takes.get(take.id)).toMatchObject({ state: 'waiting' });
    expect((await other.services.takes.ledger(take.id)).rows).toBe(rows);
    renameSync(`${folder}.away`, folder);
    const back = await other.services.recorder.lookAgain(take.id);
    expect(back).toMatchObject({ state: 'rescued' });
    expect(back.facts?.picture.packets).toBe(90);
    await other.close();
  });
});

describe('who may ask, and for what', () => {
  it('pages of other ports, of other sites and forms without JSON get nothing', async () => {
    const setup = await server.smallSetup();
    const path = `/api/setups/${setup.id}/trials`;
    const port = Number(new URL(server.url).port);
    for (const origin of [`http://127.0.0.1:${port + 1}`, `http://localhost:${port}`, 'https://elsewhere.test', 'null'])
      expect((await api().post(path).set('Origin', origin).send({ lengthS: 2 })).status).toBe(403);
    expect((await api().post(path).set('Sec-Fetch-Site', 'same-site').send({ lengthS: 2 })).status).toBe(403);
    expect((await api().post(path)).status).toBe(400);
    expect((await api().post(path).type('form').send({ lengthS: 2 })).status).toBe(400);
    expect((await api().get('/api/state').set('Origin', server.url)).status).toBe(200);
    expect(server.services.live.state().recorder).toBe('idle');
  });

  it('folders of the system, through links too, of the application itself, and missing ones are no drives', async () => {
    const link = join(server.folder, 'way');
    symlinkSync('/etc', link);
    const add = (folder: string, make = false) => api().post('/api/drives').send({ name: 'X', folder, make });
    for (const folder of [link, join(link, 'x'), '/sbin', '/lib64', '/run', '/root', '/', server.services.folders.data])
      expect([folder, (await add(folder, true)).status]).toEqual([folder, 403]);
    expect((await add(server.services.folders.takes)).status).toBe(403);
    expect((await add(join(server.folder, 'nowhere'))).status).toBe(409);
    expect(existsSync(join(server.folder, 'nowhere'))).toBe(false);
    expect((await add(join(server.folder, 'nowhere'), true)).status).toBe(201);
  });

  it('a folder that is there without its drive is not recorded to', async () => {
    const folder = join(server.folder, 'mount');
    mkdirSync(folder);
    const drive = await server.services.drives.add({ name: 'Mount', folder, quotaBytes: null, make: false });
    const setup = await server.smallSetup((draft) => ({ ...draft, driveId: drive.id }));
    rmSync(folder, { recursive: true });
    mkdirSync(folder);
    await expect(server.services.recorder.startTrial(setup.id, 2)).rejects.toThrow(/the drive is not/);
  });

  it('a data folder with signs that mean something in addresses opens', async () => {
    const folder = join(server.folder, '100% #1 ?x');
    const services = await openServices({ dataFolder: folder });
    expect(existsSync(join(folder, 'mellow.db'))).toBe(true);
    await services.recorder.shutDown();
    await services.store.close();
    // After a clean stop everything lies in the one file.
    expect(statSync(join(folder, 'mellow.db-wal'), { throwIfNoEntry: false })?.size ?? 0).toBe(0);
    expect(dirname(services.folders.database)).toBe(folder);
  });
});
