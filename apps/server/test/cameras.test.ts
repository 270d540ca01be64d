import { existsSync } from 'node:fs';
import request from 'supertest';
import { cameraDevicesSchema, cameraSchema, fileOf, problemSchema, type Recipe } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer({ trialClock: 'real' })));
afterAll(() => server.close());

const api = () => request(server.url);
const withCamera = (part: object) =>
  server.smallSetup((draft): Recipe => ({
    ...draft,
    camera: cameraSchema.parse({ from: { kind: 'stand-in' }, ...part }),
  }));

describe('cameras', () => {
  it('of this PC are listed, or it is said that there are none', async () => {
    const found = cameraDevicesSchema.parse((await api().get('/api/cameras')).body);
    expect(found.trouble === null).toBe(found.cameras.length > 0);
  });

  it('in a file of their own belong to the take: named like it, told of, and deleted with it', async () => {
    const setup = await withCamera({ where: 'own-file' });
    const { id } = await server.services.recorder.startTrial(setup.id, 2);
    const take = await server.untilEnded(id);
    const file = fileOf(take, 'camera');
    expect(file?.path).toBe(`${take.filePath.slice(0, -4)} camera.mkv`);
    expect(existsSync(file!.path)).toBe(true);
    expect(take.camera).toMatchObject({ where: 'own-file', standIn: true, away: 0 });
    expect(take.verdict?.facts.find(({ name }) => name === 'Camera')?.holds).toBe(true);
    const removal = (await api().delete(`/api/takes/${id}`)).body as { removed: string[] };
    expect(removal.removed).toContain(file!.path);
    expect(existsSync(file!.path)).toBe(false);
  }, 60_000);

  it('that are not there let no take begin, and leave nothing behind', async () => {
    const setup = await withCamera({
      where: 'own-file',
      from: { kind: 'device', device: '/dev/video77', name: 'Desk camera' },
    });
    const reply = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
    expect([reply.status, problemSchema.parse(reply.body).detail]).toEqual([
      409,
      expect.stringContaining('The camera Desk camera is not there'),
    ]);
    expect(await server.services.takes.list(setup.id)).toEqual([]);
  });
});
