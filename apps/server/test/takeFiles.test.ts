import { createHash } from 'node:crypto';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { fileOf, type Recipe, type Take, type TakeName } from '@mellow/model';
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
