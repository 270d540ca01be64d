import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import request from 'supertest';
import { z } from 'zod';
import {
  brokenIdentities,
  calibrationOf,
  forecastOf,
  nearestDue,
  NEVER,
  plainPracticeGame,
  predictionFor,
  seedOf,
} from '@mellow/core';
import { readLedgerColumns } from '@mellow/engine';
import {
  fileOf,
  briefSchema,
  gameFactsSchema,
  machineSheetSchema,
  problemSchema,
  recipeVersionSchema,
  setupSchema,
  takeSchema,
  type Setup,
  type Take,
} from '@mellow/model';
import { passagesFor } from '../src/orders/passages';
import { openTestServer, type TestServer } from './support/testServer';

let server: TestServer;
beforeAll(async () => {
  server = await openTestServer();
  await server.services.machines.bringInDemo();
});
afterAll(() => server.close());

const api = () => request(server.url);
const problemIn = (text: string) => problemSchema.parse(JSON.parse(text));
const pictureTimes = (path: string): number[] =>
  execFileSync('ffprobe', [
    '-v',
    'error',
    '-select_streams',
    'v:0',
    '-show_entries',
    'packet=pts_time',
    '-of',
    'csv=p=0',
    path,
  ])
    .toString()
    .trim()
    .split('\n')
    .map((t) => Number(t.replace(',', '')) * 1e6);

describe('machines', () => {
  it('are this PC, and the simulated ones that are labelled so', async () => {
    const machines = z.array(machineSheetSchema).parse((await api().get('/api/machines')).body);
    expect(machines.map((m) => [m.id, m.origin])).toEqual([
      ['this', 'measured'],
      ['kestrel', 'simulated'],
      ['wren', 'simulated'],
    ]);
    expect(machines[0]?.provenAt).toBeNull();
  });
  it('take typed displays; what is measured cannot be typed over, what is simulated can', async () => {
    const displays = [{ name: 'Left', widthPx: 2560, heightPx: 1440, refreshHz: 144 }];
    expect(
      machineSheetSchema.parse((await api().patch('/api/machines/this').send({ displays })).body).displays,
    ).toEqual(displays.map((display) => ({ ...display, hdr: false })));
    const refused = await api().patch('/api/machines/this').send({ cores: 64 });
    expect([refused.status, problemIn(refused.text).detail]).toEqual([
      400,
      expect.stringContaining('read from the system'),
    ]);
    expect(
      machineSheetSchema.parse((await api().patch('/api/machines/wren').send({ cores: 2, coreSpeed: 0.4 })).body),
    ).toMatchObject({ cores: 2, coreSpeed: { value: 0.4, origin: 'assumed' } });
    expect((await api().patch('/api/machines/nobody').send({ name: 'x' })).status).toBe(404);
    expect((await api().patch('/api/machines/wren').send({ cores: 0 })).status).toBe(400);
  });
  it('are written down in a sheet with the recipes in use, without folders', async () => {
    const setup = await server.smallSetup();
    const sheet = await api().get('/api/machines/this/sheet');
    expect(sheet.type).toBe('text/markdown');
    expect(sheet.text).toContain(`### ${setup.name}:`);
    expect(sheet.text).not.toContain(server.folder);
    expect((await api().get('/api/machines/nobody/sheet')).status).toBe(404);
  });
});

describe('a setup', () => {
  it('follows its brief until the recipe is changed; then the start waits beside it', async () => {
    const made = setupSchema.parse(
      (
        await api()
          .post('/api/setups')
          .send({ name: 'Talk', brief: { purpose: 'lesson', sessionMinutes: 45 } })
      ).body,
    );
    expect(made.draft.rate).toEqual({ num: 30, den: 1 });
    const film = setupSchema.parse(
      (
        await api()
          .patch(`/api/setups/${made.id}`)
          .send({ brief: { ...made.brief, purpose: 'short-film' } })
      ).body,
    );
    expect([film.draft.rate.num, film.draft.encode.quality, film.draft]).toEqual([60, 18, film.start]);
    const changed = { ...film.draft, encode: { ...film.draft.encode, quality: 25 } };
    await api().put(`/api/setups/${made.id}/draft`).send({ recipe: changed });
    const again = setupSchema.parse((await api().patch(`/api/setups/${made.id}`).send({ brief: made.brief })).body);
    expect(again.draft).toEqual(changed);
    expect(again.start.rate.num).toBe(30);
  });
  it('keeps a draft under a number, once, and remembers its locks', async () => {
    const setup = await server.smallSetup();
    const kept = recipeVersionSchema.parse((await api().post(`/api/setups/${setup.id}/keep`)).body);
    expect([kept.number, kept.recipe]).toEqual([1, setup.draft]);
    expect(recipeVersionSchema.parse((await api().post(`/api/setups/${setup.id}/keep`)).body).number).toBe(1);
    const locked = setupSchema.parse(
      (
        await api()
          .patch(`/api/setups/${setup.id}`)
          .send({ locks: ['quality', 'size'] })
      ).body,
    );
    expect(locked.locks).toEqual(['quality', 'size']);
    expect((await api().patch(`/api/setups/${setup.id}`).send({ locks: 'all' })).status).toBe(400);
    expect((await api().patch(`/api/setups/${setup.id}`).send({ machineId: 'nobody' })).status).toBe(404);
  });
});

describe('a trial', () => {
  let take: Take;
  let setup: Setup;
  beforeAll(async () => {
    setup = await server.smallSetup((draft) => ({
      ...draft,
      rewrap: true,
      encode: { ...draft.encode, encoder: 'hevc-software', effort: 'lightest' },
      file: { subfolder: 'game-day', name: [{ word: 'setup' }, { word: 'size' }, { word: 'number' }] },
    }));
    take = await server.untilEnded((await server.services.recorder.startTrial(setup.id, 6)).id);
  });
  it('lies where its name pattern says, and an MP4 with the same pictures beside it', () => {
    expect(take.filePath).toMatch(/Paper Comets\/\d{4}-\d\d-\d\d\/Small 320x180 1\.mkv$/);
    expect(fileOf(take, 'copy')?.path).toMatch(/Small 320x180 1\.mp4$/);
    expect(pictureTimes(fileOf(take, 'copy')?.path ?? '')).toHaveLength(pictureTimes(take.filePath).length);
  });
  it('keeps what was predicted of it, and its error narrows the next forecast', async () => {
    // Whatever else this machine does meanwhile: the trial is stored as one that nobody disturbed.
    const summary = take.summary ? { ...take.summary, disturbed: false } : null;
    take = await server.services.takes.update(take.id, { summary });
    const { prediction } = take;
    expect(prediction?.bitsPerSecond?.low).toBeLessThan(prediction?.bitsPerSecond?.high ?? 0);
    const context = await server.services.contexts.of(setup);
    expect(context.calibration.errors).toEqual(calibrationOf([take]).errors);
    expect(context.calibration.errors[0]?.bitsRatio).toBeGreaterThan(0);
    // Of the picture: sound is not what a trial teaches of.
    const silent = { ...setup.draft, lanes: [] };
    const before = forecastOf(silent, { ...context, calibration: calibrationOf([]) }).bits;
    const after = forecastOf(silent, context).bits;
    expect(after.high / after.low).toBeLessThan(before.high / before.low);
    expect(after.origin).toBe('fitted');
  });
  it('of PCM sound is not wrapped into an MP4, and why is said', async () => {
    const other = await server.smallSetup((draft) => ({
      ...draft,
      lanes: draft.lanes.map((lane) => ({ ...lane, codec: 'pcm' as const })),
    }));
    const { id } = await server.services.recorder.startTrial(other.id, 1);
    expect((await server.untilEnded(id)).state).toBe('closed');
    const refused = await api().post(`/api/takes/${id}/rewrap`).send({});
    expect([refused.status, problemIn(refused.text).detail]).toEqual([
      400,
      expect.stringMatching(/^PCM sound does not/),
    ]);
  });
  it('is wrapped again on demand, and an unknown one is told so', async () => {
    const again = takeSchema.parse((await api().post(`/api/takes/${take.id}/rewrap`).send({})).body);
    expect(existsSync(fileOf(again, 'copy')?.path ?? '')).toBe(true);
    expect((await api().post('/api/takes/nothing/rewrap').send({})).status).toBe(404);
  });
});

describe('a simulated take', () => {
  let take: Take;
  let setup: Setup;
  beforeAll(async () => {
    const facts = gameFactsSchema.parse({ freeFps: 90, motion: 'fast', driveId: 'kestrel-games' });
    const created = await server.services.setups.create({
      name: 'Elsewhere',
      machineId: 'kestrel',
      brief: briefSchema.parse({ purpose: 'slow-motion', sessionMinutes: 10, slowPercent: 50 }),
      game: { ...plainPracticeGame, widthPx: 640, heightPx: 360, capFps: null, facts },
    });
    setup = await server.services.setups.setDraft(created.id, {
      ...created.draft,
      rate: { num: 120, den: 1 },
      lanes: created.draft.lanes.slice(0, 1),
      size: { ...created.draft.size, widthPx: 640, heightPx: 360 },
    });
    take = await server.untilEnded((await server.services.recorder.startTrial(setup.id, 3)).id);
  });
  it('says so, with a real file on a real drive', () => {
    expect(take.machine).toMatchObject({ name: 'Kestrel', origin: 'simulated' });
    expect(take.clock).toBe('driven');
    expect(existsSync(take.filePath)).toBe(true);
    expect(take.driveId).toBe('footage');
    expect(setup.draft.driveId).toMatch(/^kestrel-/);
  });
  it('files what the simulation files: every identity holds, file and ledger tell the same', () => {
    const columns = readLedgerColumns(server.services.takes.folder(take.id));
    const pictures = pictureTimes(take.filePath).map((us) =>
      nearestDue(take.recipe.rate, us - (take.fileOffsetUs ?? 0)),
    );
    expect(columns.length).toBe(360);
    expect(
      brokenIdentities(columns, { filePictures: pictures, presented: null, passedOver: null, notReached: null }),
    ).toEqual([]);
    expect(take.summary).toMatchObject({ due: 360, filed: pictures.length });
    // The game shows 90 frames a second over an hour, some more in calm passages, by a draw of this setup's own: at 120 many of the filed ones are repeats.
    expect(take.summary?.fates.repeat).toBeGreaterThan(20);
    expect(columns.encodeOut.some((us) => us !== NEVER)).toBe(true);
    expect(take.playCost?.without.meanFps).toBeGreaterThan(80);
    expect(take.playCost?.without.meanFps).toBeLessThan(118);
  });
  it('has its picture measured on the file that the stand-in encoder made, which the forecast does not call measured', async () => {
    expect(take.likeness?.pictures).toBe(15);
    const context = await server.services.contexts.of(setup);
    const { picture } = forecastOf(take.recipe, context);
    expect(picture.ssim?.origin).toBe('fitted');
    expect(picture.ssim?.from).toContain('stand-in');
  });
  it('teaches the setup on that machine only', async () => {
    const context = await server.services.contexts.of(setup);
    expect(context.calibration.rates).toHaveLength(1);
    const here = await server.services.contexts.of({ ...setup, machineId: 'this' });
    expect(here.calibration.rates).toEqual([]);
  });
  it('was predicted from the same passages, on the setup’s own draws', async () => {
    const context = { ...(await server.services.contexts.of(setup)), calibration: calibrationOf([]) };
    const prediction = predictionFor(
      take.recipe,
      context,
      seedOf(setup.game, setup.id),
      passagesFor(setup.game, 3),
      take.prediction?.madeAt ?? '',
    );
    expect(take.prediction).toEqual(prediction);
  });
});
