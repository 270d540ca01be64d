import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { ledgerNames } from '@mellow/engine';
import { problemSchema, takeSchema, type Setup, type Take } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
let setup: Setup;
let take: Take;
beforeAll(async () => {
  server = await openTestServer({ baselineS: 0.3, trialClock: 'real' });
  setup = await server.smallSetup();
  take = await server.services.recorder.startTrial(setup.id, 2);
  await server.untilEnded(take.id);
});
afterAll(() => server.close());

const api = () => request(server.url);

describe('bad input gets a problem document on every route', () => {
  const cases: [string, 'get' | 'post' | 'put' | 'patch' | 'delete', string, unknown, number, string][] = [
    ['an unknown setup', 'get', '/api/setups/nothing', undefined, 404, 'not-found'],
    ['an unknown take', 'get', '/api/takes/nothing', undefined, 404, 'not-found'],
    ['an unknown take to delete', 'delete', '/api/takes/nothing', undefined, 404, 'not-found'],
    ['media of an unknown take', 'get', '/api/takes/nothing/media', undefined, 404, 'not-found'],
    ['the ledger of an unknown take', 'get', '/api/takes/nothing/ledger', undefined, 404, 'not-found'],
    ['the log of an unknown take', 'get', '/api/takes/nothing/log', undefined, 404, 'not-found'],
    ['a still of an unknown take', 'get', '/api/takes/nothing/still', undefined, 404, 'not-found'],
    ['a path in place of an id', 'get', '/api/takes/..%2F..%2Fmellow.db/file', undefined, 404, 'not-found'],
    ['an id that is too long', 'get', `/api/takes/${'x'.repeat(200)}`, undefined, 400, 'bad-request'],
    ['a route there is not', 'get', '/api/nothing', undefined, 404, 'not-found'],
    ['a setup without a brief', 'post', '/api/setups', { name: 'x' }, 400, 'bad-request'],
    [
      'a setup with a field too many',
      'post',
      '/api/setups',
      { name: 'x', brief: { purpose: 'long-play', sessionMinutes: 5 }, admin: true },
      400,
      'bad-request',
    ],
    [
      'a purpose there is not',
      'post',
      '/api/setups',
      { name: 'x', brief: { purpose: 'fame', sessionMinutes: 5 } },
      400,
      'bad-request',
    ],
    ['a name that is a number', 'patch', '/api/setups/SETUP', { name: 5 }, 400, 'bad-request'],
    ['a game of odd size', 'patch', '/api/setups/SETUP', { game: { widthPx: 641 } }, 400, 'bad-request'],
    ['a recipe of wrong types', 'put', '/api/setups/SETUP/draft', { recipe: { rate: 'fast' } }, 400, 'bad-request'],
    ['a trial of a negative length', 'post', '/api/setups/SETUP/trials', { lengthS: -4 }, 400, 'bad-request'],
    ['a trial of an hour', 'post', '/api/setups/SETUP/trials', { lengthS: 3600 }, 400, 'bad-request'],
    ['a trial of an unknown setup', 'post', '/api/setups/nothing/trials', { lengthS: 4 }, 404, 'not-found'],
    ['stopping when nothing rolls', 'post', '/api/recorder/stop', {}, 409, 'recorder-idle'],
    ['removing a setup with trials', 'delete', '/api/setups/SETUP', undefined, 409, 'still-used'],
    ['a drive in the system’s folders', 'post', '/api/drives', { name: 'x', folder: '/etc/x' }, 403, 'outside-drives'],
    ['a drive by a relative path', 'post', '/api/drives', { name: 'x', folder: 'footage' }, 400, 'bad-request'],
    [
      'a drive below a folder that is not there',
      'post',
      '/api/drives',
      { name: 'x', folder: '/nowhere/at/all' },
      409,
      'drive-problem',
    ],
    ['a lane the take does not have', 'get', '/api/takes/TAKE/media?lane=4', undefined, 404, 'not-found'],
    ['a lane that is no number', 'get', '/api/takes/TAKE/media?lane=first', undefined, 400, 'bad-request'],
    ['rows before the first', 'get', '/api/takes/TAKE/ledger?from=-1', undefined, 400, 'bad-request'],
    ['keeping the draft of an unknown setup', 'post', '/api/setups/nothing/keep', {}, 404, 'not-found'],
    ['a machine that is not there', 'patch', '/api/setups/SETUP', { machineId: 'nobody' }, 404, 'not-found'],
    ['locks that are no list', 'patch', '/api/setups/SETUP', { locks: 'quality' }, 400, 'bad-request'],
    [
      'a brief that orders one concern twice',
      'patch',
      '/api/setups/SETUP',
      { brief: { purpose: 'long-play', sessionMinutes: 5, matters: ['game', 'game', 'picture', 'safety'] } },
      400,
      'bad-request',
    ],
    [
      'an encoder there is not',
      'put',
      '/api/setups/SETUP/draft',
      { recipe: { rate: { num: 60, den: 1 }, encode: { encoder: 'avc-by-hand' } } },
      400,
      'bad-request',
    ],
    ['wrapping an unknown take', 'post', '/api/takes/nothing/rewrap', {}, 404, 'not-found'],
    ['changing an unknown machine', 'patch', '/api/machines/nobody', { name: 'x' }, 404, 'not-found'],
    ['displays that are no list', 'patch', '/api/machines/this', { displays: 'two' }, 400, 'bad-request'],
    ['the sheet of an unknown machine', 'get', '/api/machines/nobody/sheet', undefined, 404, 'not-found'],
    ['a million pieces', 'get', '/api/takes/TAKE/pyramid?buckets=1000000', undefined, 400, 'bad-request'],
  ];
  it.each(cases)('%s', async (_, method, path, body, status, kind) => {
    const address = path.replace('SETUP', setup.id).replace('TAKE', take.id);
    const response = await api()
      [method](address)
      .send(body as object);
    expect(response.status).toBe(status);
    expect(response.type).toBe('application/problem+json');
    const problem = problemSchema.parse(JSON.parse(response.text));
    expect(problem.type).toBe(`/problems/${kind}`);
    expect(problem.detail.length).toBeGreaterThan(20);
  });

  it('a body that is too large, and one that is no JSON', async () => {
    const large = await api()
      .post('/api/setups')
      .send({ name: 'x'.repeat(100_000) });
    expect([large.status, problemSchema.parse(JSON.parse(large.text)).type]).toEqual([413, '/problems/too-large']);
    const broken = await api().post('/api/setups').set('Content-Type', 'application/json').send('{"name":');
    expect([broken.status, problemSchema.parse(JSON.parse(broken.text)).type]).toEqual([400, '/problems/bad-request']);
  });

  it.each([
    ['Origin', 'https://elsewhere.example'],
    ['Origin', 'null'],
    ['Host', 'elsewhere.example'],
    ['Host', '127.0.0.1.elsewhere.example'],
  ])('a foreign %s: %s', async (name, value) => {
    const response = await api().get('/api/takes').set(name, value);
    expect(response.status).toBe(403);
    expect(problemSchema.parse(JSON.parse(response.text)).type).toBe('/problems/foreign-origin');
  });

  it('a recipe that clashes cannot roll, and the answer names the remedy', async () => {
    const other = await server.smallSetup((draft) => ({ ...draft, size: { ...draft.size, widthPx: 321 } }));
    const response = await api().post(`/api/setups/${other.id}/trials`).send({ lengthS: 2 });
    expect(response.status).toBe(409);
    expect(problemSchema.parse(JSON.parse(response.text)).detail).toContain('Use 320×180');
    expect(await server.services.takes.list(other.id)).toEqual([]);
  });
});

describe('a take over HTTP', () => {
  it('is complete and fits its schema', async () => {
    const found = takeSchema.parse((await api().get(`/api/takes/${take.id}`)).body);
    expect(found).toMatchObject({ state: 'closed', end: 'length', recipeVersion: 1 });
    expect(found.facts?.picture.packets).toBe(found.summary?.filed);
    expect(found.verdict?.sentence).toMatch(/frames/);
    expect(found.playCost?.without.frames).toBeGreaterThan(5);
  });
  it('has its picture measured, and keeps nothing of what was kept for that', async () => {
    const found = takeSchema.parse((await api().get(`/api/takes/${take.id}`)).body);
    // Five a second; a machine that is busy may lose the frames of one stretch or another, and their pictures with them.
    expect(found.likeness?.pictures).toBeGreaterThanOrEqual(5);
    expect(found.likeness?.pictures).toBeLessThanOrEqual(10);
    expect(found.likeness?.ssim).toBeGreaterThan(0.9);
    expect(found.likeness?.worstSecondSsim).toBeLessThanOrEqual(found.likeness?.ssim ?? 0);
    expect(found.verdict?.facts.find(({ name }) => name === 'Look')?.found).toContain('SSIM');
    expect(existsSync(join(server.services.takes.folder(take.id), ledgerNames.kept))).toBe(false);
    // Linux tells what the encoder's threads use: nothing is measured afterwards.
    expect(found.unpaced).toBeNull();
  });
  it('serves its file with ranges', async () => {
    const whole = readFileSync((await server.services.takes.get(take.id)).filePath);
    const part = await api()
      .get(`/api/takes/${take.id}/file`)
      .set('Range', 'bytes=100-199')
      .buffer(true)
      .parse((res, done) => {
        const chunks: Buffer[] = [];
        res.on('data', (c: Buffer) => chunks.push(c));
        res.on('end', () => done(null, Buffer.concat(chunks)));
      });
    expect(part.status).toBe(206);
    expect(part.headers['content-range']).toBe(`bytes 100-199/${whole.length}`);
    expect(Buffer.compare(part.body as Buffer, whole.subarray(100, 200))).toBe(0);
    expect((await api().get(`/api/takes/${take.id}/file`).set('Range', 'bytes=999999999-')).status).toBe(416);
  });
  it('gives ledger, pieces, losses, seconds and CSV that agree', async () => {
    const found = await server.services.takes.get(take.id);
    const due = found.summary?.due ?? 0;
    const rows = (await api().get(`/api/takes/${take.id}/ledger?from=0&to=${due}`)).body as { fate: number[] };
    expect(rows.fate).toHaveLength(due);
    const csv = (await api().get(`/api/takes/${take.id}/ledger.csv`)).text.trimEnd().split('\r\n');
    expect(csv).toHaveLength(due + 1);
    const losses = (await api().get(`/api/takes/${take.id}/losses`)).body as { total: number };
    expect(losses.total).toBe(due - (found.summary?.filed ?? 0));
    const pyramid = (await api().get(`/api/takes/${take.id}/pyramid?buckets=20`)).body as { bytes: number[] };
    expect(pyramid.bytes.reduce((sum, b) => sum + b, 0)).toBe(found.facts?.picture.pictureBytes);
    expect(((await api().get(`/api/takes/${take.id}/seconds`)).body as unknown[]).length).toBeGreaterThan(0);
  });
  it('plays a lane and shows a still', async () => {
    expect((await api().get(`/api/takes/${take.id}/media`)).headers['content-type']).toBe('video/mp4');
    expect((await api().get(`/api/takes/${take.id}/still`)).headers['content-type']).toBe('image/jpeg');
  });
  it('describes itself: each route of the description answers, and each has its parameters', async () => {
    const document = (await api().get('/api/openapi.json')).body as {
      openapi: string;
      paths: Record<string, Record<string, { responses: object; parameters?: { name: string; in: string }[] }>>;
    };
    expect(document.openapi).toBe('3.1.0');
    for (const [path, operations] of Object.entries(document.paths)) {
      const inPath = [...path.matchAll(/\{(\w+)\}/g)].map((m) => m[1]);
      for (const operation of Object.values(operations))
        expect((operation.parameters ?? []).filter((p) => p.in === 'path').map((p) => p.name)).toEqual(inPath);
      if (operations['get'] && path !== '/api/live') {
        const response = await api().get(
          path
            .replace('/setups/{id}', `/setups/${setup.id}`)
            .replace('/takes/{id}', `/takes/${take.id}`)
            .replace('/machines/{id}', '/machines/this'),
        );
        expect([path, response.status]).toEqual([path, 200]);
      }
    }
  });
});

describe('drafts, versions and drives', () => {
  it('changes that come at once each count, and each is undone', async () => {
    const { id, draft, undoDepth } = await server.smallSetup();
    const qualities = Array.from({ length: 12 }, (_, i) => i + 5);
    // Asked of the service itself: over HTTP requests mostly arrive one after another, and would only race at times.
    const { setups } = server.services;
    const put = (quality: number) => setups.setDraft(id, { ...draft, encode: { ...draft.encode, quality } });
    const locks = ['encode.effort', 'encode.quality'];
    await Promise.all([...qualities.map(put), setups.change(id, { name: 'Other' }), setups.change(id, { locks })]);
    expect(await setups.get(id)).toMatchObject({ undoDepth: undoDepth + 12, locks, name: 'Other' });
    const kept = await Promise.all(qualities.map(() => setups.version(id)));
    expect(kept.map((k) => k.number)).toEqual(qualities.map(() => 1));
    await Promise.all(qualities.map(() => setups.undo(id)));
    expect(await setups.get(id)).toMatchObject({ undoDepth, draft });
  });
  it('a draft is stored, undone, and gets its number when a trial uses it', async () => {
    const changed = { ...setup.draft, encode: { ...setup.draft.encode, quality: 26 } };
    const put = (await api().put(`/api/setups/${setup.id}/draft`).send({ recipe: changed })).body as Setup;
    expect([put.draft.encode.quality, put.versions.length]).toEqual([26, 1]);
    const undone = (await api().post(`/api/setups/${setup.id}/undo`)).body as Setup;
    expect(undone.draft).toEqual(setup.draft);
    await api().put(`/api/setups/${setup.id}/draft`).send({ recipe: changed });
    const made = (await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 })).body as Take;
    expect([made.recipeVersion, made.number]).toEqual([2, 2]);
    const second = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
    expect([second.status, problemSchema.parse(JSON.parse(second.text)).type]).toEqual([
      409,
      '/problems/recorder-busy',
    ]);
    const deleting = await api().delete(`/api/takes/${made.id}`);
    expect(deleting.status).toBe(409);
    const ended = await server.untilEnded(made.id);
    expect(existsSync(ended.filePath)).toBe(true);
    const removed = await api().delete(`/api/takes/${made.id}`);
    expect([removed.status, removed.body]).toEqual([200, { removed: [ended.filePath], left: [] }]);
    expect(existsSync(ended.filePath)).toBe(false);
    expect((await api().get(`/api/takes/${made.id}`)).status).toBe(404);
  });

  it('a drive can be added once, is listed with its room, and goes only when nothing needs it', async () => {
    const folder = join(server.folder, 'barn');
    mkdirSync(folder);
    const added = (await api().post('/api/drives').send({ name: 'Barn', folder, quotaBytes: 5_000_000 })).body as {
      id: string;
    };
    expect((await api().post('/api/drives').send({ name: 'Again', folder })).status).toBe(400);
    const list = (await api().get('/api/drives')).body as { id: string; kind: string; totalBytes: number }[];
    expect(list.find((d) => d.id === added.id)).toMatchObject({ kind: 'stand-in', totalBytes: 5_000_000 });
    expect((await api().delete('/api/drives/footage')).status).toBe(409);
    expect((await api().delete(`/api/drives/${added.id}`)).status).toBe(204);
  });

  it('a take whose file was taken away says so, and keeps its figures', async () => {
    const { filePath } = await server.services.takes.get(take.id);
    const bytes = readFileSync(filePath);
    writeFileSync(`${filePath}.moved`, bytes);
    const { rmSync } = await import('node:fs');
    rmSync(filePath);
    const response = await api().get(`/api/takes/${take.id}/file`);
    expect([response.status, problemSchema.parse(JSON.parse(response.text)).type]).toEqual([
      410,
      '/problems/file-missing',
    ]);
    expect((await api().get(`/api/takes/${take.id}`)).status).toBe(200);
    writeFileSync(filePath, bytes);
  });
});
