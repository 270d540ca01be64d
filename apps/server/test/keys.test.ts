import { execFileSync } from 'node:child_process';
import request from 'supertest';
import { plainKey, startBindings } from '@mellow/core';
import { keyStateSchema, problemSchema, type Bindings, type KeySettings } from '@mellow/model';
import {
  openDisplay,
  openWindowGame,
  type TestDisplay,
  type WindowGame,
} from '../../../packages/engine/test/support/display';
import { openTestServer, type TestServer } from './support/testServer';

/** Keys pressed by xdotool while the window game has the focus, on a display of its own (X Test and X Record extensions). */
let display: TestDisplay;
let game: WindowGame;
let server: TestServer;
const before = process.env['DISPLAY'];
beforeAll(async () => {
  display = await openDisplay(800, 600);
  process.env['DISPLAY'] = display.name;
  server = await openTestServer();
  game = await openWindowGame(display.name, server.folder, ['--size', '320x180']);
}, 60_000);
afterAll(async () => {
  await game.close();
  await server.close();
  await display.close();
  if (before === undefined) delete process.env['DISPLAY'];
  else process.env['DISPLAY'] = before;
});

const api = () => request(server.url);
const xdotool = (...args: string[]): void =>
  void execFileSync('xdotool', args, { env: { ...process.env, DISPLAY: display.name }, stdio: 'ignore' });
const press = (key: string): void => xdotool('key', key);
const bindings: Bindings = {
  ...startBindings,
  mark: { ...plainKey, code: 'F9' },
  window: { ...plainKey, alt: true, code: 'F10' },
};
const choose = async (change: Partial<KeySettings>) =>
  api()
    .put('/api/keys')
    .send({ on: true, setupId: null, common: bindings, bySetup: {}, ...change });
const state = async () => keyStateSchema.parse((await api().get('/api/keys')).body);

it('nothing is heard before somebody said yes', async () => {
  expect(await state()).toEqual({
    settings: { on: false, setupId: null, common: startBindings, bySetup: {} },
    listening: false,
    why: null,
  });
  expect(server.services.keys.listenerPid()).toBeNull();
});

it('rolls, marks, keeps and stops while the game has the focus', async () => {
  const setup = await server.smallSetup((draft) => ({ ...draft, encode: { ...draft.encode, keyDistanceFrames: 30 } }));
  await api()
    .patch(`/api/setups/${setup.id}`)
    .send({ hindsight: { lengthS: 20 } });
  expect(keyStateSchema.parse((await choose({ setupId: setup.id })).body)).toMatchObject({
    listening: true,
    why: null,
  });
  xdotool('windowfocus', '--sync', String(game.window.windowId));
  press('ctrl+shift+y');
  const live = await server.untilLive(({ take }) => (take?.held?.heldS ?? 0) > 2 && (take?.elapsedUs ?? 0) > 2e6);
  const id = live.take!.takeId;
  press('F9');
  // None of ours: one modifier more, another key.
  press('ctrl+F9');
  press('F8');
  press('Scroll_Lock');
  await server.untilLive(({ notice }) => notice?.title.endsWith('are kept') ?? false);
  press('alt+F10');
  await server.untilLive(({ windowHidden }) => windowHidden);
  // A slip ends nothing.
  press('ctrl+shift+y');
  const dueThen = server.services.live.state().take!.due;
  await server.untilLive(({ take }) => (take?.due ?? 0) > dueThen + 30);
  xdotool('keydown', 'ctrl+shift+y');
  await server.untilLive(({ recorder }) => recorder === 'closing' || recorder === 'idle');
  xdotool('keyup', 'ctrl+shift+y');
  const take = await server.untilEnded(id);
  expect(take).toMatchObject({ kind: 'full', state: 'closed', end: 'stopped' });
  expect(take.marks.map(({ note }) => note)).toEqual(['', expect.stringMatching(/ kept$/)]);
}, 90_000);

it('a setup’s own keys hold for it, and the process that hears is replaced when it dies', async () => {
  const setup = await server.smallSetup();
  const own = { [setup.id]: { roll: { ...plainKey, code: 'F7' } } };
  await choose({ setupId: setup.id, bySetup: own });
  const pid = server.services.keys.listenerPid()!;
  process.kill(pid, 'SIGKILL');
  for (;;) {
    const now = server.services.keys.listenerPid();
    if (now !== null && now !== pid) break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  press('ctrl+shift+y');
  press('F7');
  const live = await server.untilLive(({ take }) => (take?.due ?? 0) > 30);
  expect(live.take?.setupId).toBe(setup.id);
  await api().post('/api/recorder/stop');
  await server.untilEnded(live.take!.takeId);
}, 60_000);

it('what a key cannot do is told, and off is off', async () => {
  await choose({ setupId: null });
  press('ctrl+shift+y');
  await server.untilLive(({ notice }) => notice?.text.startsWith('The key rolls no setup yet') ?? false);
  await choose({ on: false });
  expect(await state()).toMatchObject({ listening: false, why: null });
  expect(server.services.keys.listenerPid()).toBeNull();
  for (const common of [{ ...bindings, mark: { code: 'no key' } }, { roll: null }])
    expect(
      problemSchema.parse((await api().put('/api/keys').send({ on: true, setupId: null, common })).body).status,
    ).toBe(400);
});

it('off is off although it was still beginning, however often it was switched', async () => {
  const answers = await Promise.all([choose({}), choose({}), choose({ on: false })]);
  expect(answers.map(({ status }) => status)).toEqual([200, 200, 200]);
  expect(await state()).toMatchObject({ listening: false });
  expect(server.services.keys.listenerPid()).toBeNull();
  // None is left that would hear anything.
  const children = execFileSync('ps', ['-o', 'args=', '--ppid', String(process.pid)]).toString();
  expect(children).not.toContain('keys.mjs');
});

it('says why where there is no display to hear keys on', async () => {
  const here = process.env['DISPLAY'];
  delete process.env['DISPLAY'];
  try {
    const reply = keyStateSchema.parse((await choose({})).body);
    expect(reply).toMatchObject({ listening: false, why: expect.stringContaining('no X11 display') });
  } finally {
    process.env['DISPLAY'] = here;
    await choose({ on: false });
  }
});
