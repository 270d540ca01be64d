import { existsSync, mkdirSync, rmSync, statSync, symlinkSync } from 'node:fs';
import { dirname, join } from 'node:path';
import request from 'supertest';
import { openServices } from '../src/services/services';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 2000 })));
afterAll(() => server.close());

const api = () => request(server.url);

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
