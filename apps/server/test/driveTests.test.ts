import request from 'supertest';
import { driveSchema, mostDriveTests, type DriveTest } from '@mellow/model';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => void (server = await openTestServer()));
afterAll(() => server.close());

const type = (id: string, writeBytesPerSecond: number | null) =>
  request(server.url).patch(`/api/drives/${id}`).send({ writeBytesPerSecond });
const test = (bytesPerSecond: number): DriveTest => ({
  bytesPerSecond,
  way: 'direct',
  steady: true,
  longestPauseMs: 12,
  seconds: 4,
  trace: [bytesPerSecond],
});

it('is kept with its course, beside the earlier ones, and nothing of it stays on the drive', async () => {
  const id = await server.services.drives.defaultId();
  const reply = await request(server.url).post(`/api/drives/${id}/measure`);
  const drive = driveSchema.parse(reply.body);
  const found = drive.tests.at(-1)!;
  // Steady is told of six half seconds that are alike; a drive that pauses has fewer of them.
  expect(found.trace.length).toBeGreaterThanOrEqual(found.steady ? 6 : 1);
  expect(drive.writeBytesPerSecond).toBe(Math.round(found.bytesPerSecond));
  expect(drive.speedTyped).toBe(false);
  for (let i = 1; i <= mostDriveTests + 3; i++) await server.services.drives.addTest(id, test(i * 1e6));
  const { tests, writeBytesPerSecond } = await server.services.drives.get(id);
  expect(tests.map(({ bytesPerSecond }) => bytesPerSecond / 1e6)).toEqual([4, 5, 6, 7, 8, 9, 10, 11]);
  expect(writeBytesPerSecond).toBe(11e6);
}, 60_000);

it('gives way to a speed that is typed, and comes back', async () => {
  const id = await server.services.drives.defaultId();
  await server.services.drives.addTest(id, test(80e6));
  expect(driveSchema.parse((await type(id, 120e6)).body)).toMatchObject({
    writeBytesPerSecond: 120e6,
    speedTyped: true,
  });
  expect(driveSchema.parse((await type(id, null)).body)).toMatchObject({
    writeBytesPerSecond: 80e6,
    speedTyped: false,
  });
  const fresh = await server.services.drives.add({
    name: 'New',
    folder: `${server.folder}/new`,
    quotaBytes: null,
    make: true,
  });
  expect(driveSchema.parse((await type(fresh.id, null)).body).writeBytesPerSecond).toBeNull();
  for (const speed of [0, -5, 1e12]) expect((await type(id, speed)).status).toBe(400);
  expect((await type('nobody', 1e6)).status).toBe(404);
});
