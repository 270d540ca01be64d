import { execFileSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { brokenIdentities, isFiled, lossRuns, nearestDue, verdictOf } from '@mellow/core';
import { readLedgerColumns } from '@mellow/engine';
import { takeListSchema } from '@mellow/model';
import { demoFolder, readDemoManifest } from '../src/demo/demo';
import { openTestServer, type TestServer } from './support/testServer';

const manifest = readDemoManifest();
if (!manifest) throw new Error('The demo has not been built: npm run demo:build');

describe('the demo that ships', () => {
  it('keeps to its sizes', () => {
    const bytes = manifest.takes.map((take) => statSync(join(demoFolder, take.id, basename(take.filePath))).size);
    expect(Math.max(...bytes)).toBeLessThan(4e6);
    expect(bytes.reduce((sum, b) => sum + b, 0)).toBeLessThan(25e6);
  });
  it('has a good trial, one with encode misses and one rescued after a kill', () => {
    expect(manifest.setups).toHaveLength(6);
    expect(manifest.takes.some((t) => t.verdict?.mark === 'keep')).toBe(true);
    expect(manifest.takes.some((t) => (t.summary?.fates['encode-miss'] ?? 0) > 0)).toBe(true);
    // Those on simulated machines are never told from a measurement.
    for (const setup of manifest.setups)
      expect(
        manifest.takes
          .filter((t) => t.setupId === setup.id)
          .every((t) => (t.machine.origin === 'simulated') === (setup.machineId !== 'this')),
      ).toBe(true);
    expect(new Set(manifest.takes.map((t) => t.machine.name))).toEqual(
      new Set(['the PC the demo was made on', 'Kestrel', 'Wren']),
    );
    expect(manifest.takes.some((t) => t.state === 'rescued' && t.end === 'engine-died' && t.tailFrames > 0)).toBe(true);
  });
  it.each(
    manifest.takes.map(
      (take) => [`${manifest.setups.find((s) => s.id === take.setupId)?.name}, trial ${take.number}`, take] as const,
    ),
  )('%s: ledger, file and verdict agree', (_, take) => {
    const columns = readLedgerColumns(join(demoFolder, take.id));
    // ffprobe (FFmpeg project) reads the file by itself.
    const out = execFileSync('ffprobe', [
      '-v',
      'error',
      '-select_streams',
      'v:0',
      '-show_entries',
      'packet=pts_time,size',
      '-of',
      'csv=p=0',
      join(demoFolder, take.id, basename(take.filePath)),
    ]).toString();
    const packets = out
      .trim()
      .split('\n')
      .map((line) => line.split(',').map(Number));
    const pictures = packets.map(([time]) =>
      nearestDue(take.recipe.rate, (time ?? 0) * 1e6 - (take.fileOffsetUs ?? 0)),
    );
    expect(
      brokenIdentities(columns, {
        filePictures: pictures,
        presented: take.summary?.presented ?? null,
        passedOver: take.summary?.passedOver ?? null,
        notReached: take.summary?.notReached ?? null,
      }),
    ).toEqual([]);
    packets.forEach(([, size], i) => expect(columns.bytes[pictures[i] ?? 0]).toBe(size));
    const filed = Array.from({ length: columns.length }, (_, n) => n).filter((n) => isFiled(columns, n)).length;
    expect([take.summary?.filed, take.summary?.due, take.facts?.picture.packets]).toEqual([
      filed,
      columns.length,
      filed,
    ]);
    expect(verdictOf(take, lossRuns(columns))).toEqual(take.verdict);
  });
});

describe('the demo in use', () => {
  let server: TestServer;
  beforeAll(async () => void (server = await openTestServer()));
  afterAll(() => server.close());
  const get = async (path: string): Promise<unknown> => (await fetch(`${server.url}/api${path}`)).json();

  it('comes in once, plays, and goes with one call', async () => {
    await server.services.demo.bringIn();
    await server.services.demo.bringIn();
    const takes = takeListSchema.parse(await get('/takes'));
    expect(takes).toHaveLength(manifest.takes.length);
    const media = await fetch(`${server.url}/api/takes/${takes[0]?.id}/media`);
    expect([media.status, media.headers.get('content-type')]).toEqual([200, 'video/mp4']);
    expect(await server.services.demo.state()).toMatchObject({
      present: true,
      setups: 6,
      takes: manifest.takes.length,
    });
    // What a person recorded into its folder is the person's.
    const own = await server.smallSetup((draft) => ({ ...draft, driveId: 'demo' }));
    const kept = await server.services.recorder.startTrial(own.id, 2);
    const { filePath } = await server.untilEnded(kept.id);
    expect(filePath.startsWith(server.services.folders.demo)).toBe(true);
    expect((await fetch(`${server.url}/api/demo`, { method: 'DELETE' })).status).toBe(204);
    expect(takeListSchema.parse(await get('/takes')).map(({ id }) => id)).toEqual([kept.id]);
    expect(existsSync(filePath)).toBe(true);
    expect(existsSync(await server.services.takes.file(kept.id))).toBe(true);
    await server.services.takes.remove(kept.id);
    await server.services.setups.remove(own.id);
    await server.services.demo.bringIn();
    expect(takeListSchema.parse(await get('/takes'))).toEqual([]);
  });
});
