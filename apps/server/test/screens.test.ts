import request from 'supertest';
import { practiceSource, problemSchema, screenLookSchema, screensSchema, type Setup, type Source } from '@mellow/model';
import {
  openDisplay,
  openWindowGame,
  type TestDisplay,
  type WindowGame,
} from '../../../packages/engine/test/support/display';
import { fromWindow } from '../../../packages/engine/test/support/screenTake';
import { openTestServer, type TestServer } from './support/testServer';

let display: TestDisplay;
let server: TestServer;
const before = process.env.DISPLAY;
beforeAll(async () => {
  display = await openDisplay(1280, 720);
  process.env.DISPLAY = display.name;
  server = await openTestServer();
});
afterAll(async () => {
  await server.close();
  await display.close();
  process.env.DISPLAY = before;
});

const api = () => request(server.url);
const withSource = (source: Source, lanes: 'none' | 'kept' = 'none'): Promise<Setup> =>
  server.smallSetup((draft) => ({
    ...draft,
    source,
    size: { ...draft.size, widthPx: 640, heightPx: 360 },
    lanes: lanes === 'none' ? [] : draft.lanes,
  }));
const problemOf = (text: string) => problemSchema.parse(JSON.parse(text));

describe('a game of one’s own', () => {
  let game: WindowGame;
  beforeAll(async () => void (game = await openWindowGame(display.name, server.folder, ['--size', '640x360'])));
  afterAll(() => game.close());

  it('is listed, looked at, and its trial says what it was', async () => {
    const { windows, displays, trouble } = screensSchema.parse((await api().get('/api/screens')).body);
    expect(trouble).toBeNull();
    expect(displays).toHaveLength(1);
    const window = windows.find(({ title }) => title === game.window.title);
    expect(window).toEqual(game.window);
    const source = fromWindow(game.window);
    const look = screenLookSchema.parse((await api().post('/api/screens/look').send(source)).body);
    expect([look.widthPx, look.heightPx]).toEqual([640, 360]);
    expect(look.brightest).toBeGreaterThan(60);
    // A bitmap of 320 by 180, 24 bits: heading and rows.
    expect(Buffer.from(look.image.split(',')[1] ?? '', 'base64')).toHaveLength(54 + 320 * 180 * 3);

    const setup = await withSource(source);
    const take = await server.untilEnded((await server.services.recorder.startTrial(setup.id, 2)).id);
    expect([take.state, take.end, take.source.kind]).toEqual(['closed', 'length', 'window']);
    expect(take.facts?.picture).toMatchObject({ widthPx: 640, heightPx: 360 });
    expect(take.summary?.fates.new).toBeGreaterThan(0);
    expect(take.summary?.processor?.gameShare).toBeGreaterThan(0);
    // Nobody measured the game without recording.
    expect(take.playCost).toBeNull();
    expect(take.verdict).not.toBeNull();
  });

  it('whose window has another number today is found by its title', async () => {
    const setup = await withSource(fromWindow({ ...game.window, windowId: 4242 }));
    const take = await server.untilEnded((await server.services.recorder.startTrial(setup.id, 2)).id);
    expect(take.source).toEqual(fromWindow(game.window));
    // The recipe stays what a person chose.
    expect(take.recipe.source).toMatchObject({ windowId: 4242 });
  });

  it('that is not there is said before anything rolls, and leaves nothing', async () => {
    const setup = await withSource(fromWindow({ ...game.window, windowId: 4242, title: 'Nobody’s game' }));
    const refused = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
    expect([refused.status, problemOf(refused.text).type]).toEqual([409, '/problems/no-source']);
    expect(problemOf(refused.text).detail).toContain('Start the game');
    expect(await server.services.takes.list()).not.toContainEqual(expect.objectContaining({ setupId: setup.id }));
    expect(server.services.live.state().recorder).toBe('idle');
    const look = await api().post('/api/screens/look').send(setup.draft.source);
    expect([look.status, problemOf(look.text).type]).toEqual([409, '/problems/no-source']);
  });

  it('whose program is left alone is neither offered nor looked at nor recorded', async () => {
    const { program } = game.window;
    expect(program).toBeTruthy();
    const setup = await withSource(fromWindow(game.window));
    await api()
      .put('/api/left-alone')
      .send({ names: [program] });
    const { windows } = screensSchema.parse((await api().get('/api/screens')).body);
    expect(windows.map(({ title }) => title)).not.toContain(game.window.title);
    const look = await api().post('/api/screens/look').send(setup.draft.source);
    expect([look.status, problemOf(look.text).detail]).toEqual([409, expect.stringContaining('is left alone')]);
    const refused = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
    expect([refused.status, problemOf(refused.text).type]).toEqual([409, '/problems/no-source']);
    await api().put('/api/left-alone').send({ names: [] });
    const look2 = await api().post('/api/screens/look').send(setup.draft.source);
    expect(look2.status).toBe(200);
  });

  it('has none of the practice game’s sound: a recipe with lanes is refused with what settles it', async () => {
    const setup = await withSource(fromWindow(game.window), 'kept');
    const refused = await api().post(`/api/setups/${setup.id}/trials`).send({ lengthS: 2 });
    expect([refused.status, problemOf(refused.text).type]).toEqual([409, '/problems/recipe-clash']);
    expect(problemOf(refused.text).detail).toContain('Hear this PC and the microphone');
  });
});

describe('what cannot be looked at', () => {
  const place = { leftPx: 0, topPx: 0, widthPx: 640, heightPx: 360, pointer: true };
  it.each<[string, Source, number, RegExp]>([
    ['the practice game', practiceSource, 400, /drawn by the recorder itself/],
    ['a display that is not connected', { kind: 'display', name: 'DP-9', ...place }, 409, /not connected/],
    ['a part outside of the screen', { kind: 'region', ...place, leftPx: 1000 }, 409, /outside the screen/],
  ])('%s', async (_what, source, status, words) => {
    const look = await api().post('/api/screens/look').send(source);
    expect(look.status).toBe(status);
    expect(problemOf(look.text).detail).toMatch(words);
  });

  it('nor anything where no display answers: it is said, and the practice game goes on', async () => {
    const own = process.env.DISPLAY;
    try {
      process.env.DISPLAY = ':4242';
      const { trouble, displays } = screensSchema.parse((await api().get('/api/screens')).body);
      expect([trouble, displays]).toEqual([expect.stringContaining('cannot be reached'), []]);
      const setup = await server.smallSetup();
      const take = await server.untilEnded((await server.services.recorder.startTrial(setup.id, 2)).id);
      expect(take.state).toBe('closed');
    } finally {
      process.env.DISPLAY = own;
    }
  });
});
