import { existsSync, mkdirSync, renameSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import request from 'supertest';
import { type Take } from '@mellow/model';
import { takes } from '../src/db/schema';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ hangMs: 2000 })));
afterAll(() => server.close());

const api = () => request(server.url);

async function trial(setupId: string, lengthS = 2): Promise<Take> {
  const begun = await server.services.recorder.startTrial(setupId, lengthS);
  return server.untilEnded(begun.id);
}

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
    // Looked for while another take rolls, it takes nothing from that one.
    const another = await other.smallSetup();
    const rolling = await other.services.recorder.startTrial(another.id, null, 'full');
    await other.untilLive(({ take: live }) => (live?.due ?? 0) > 20);
    await expect(other.services.recorder.lookAgain(take.id)).rejects.toThrow(/is being made/);
    expect(other.services.recorder.rollingNow()).toMatchObject({ takeId: rolling.id });
    other.services.recorder.stop();
    expect(await other.untilEnded(rolling.id)).toMatchObject({ state: 'closed', end: 'stopped' });
    const back = await other.services.recorder.lookAgain(take.id);
    expect(back).toMatchObject({ state: 'rescued' });
    expect(back.facts?.picture.packets).toBe(take.facts?.picture.packets);
    expect(back.facts?.picture.packets).toBeGreaterThan(0);
    await other.close();
  });
});
