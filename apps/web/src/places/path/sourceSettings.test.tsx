import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Screens, Setup, Source } from '@mellow/model';
import { showPath, testPath, testRecipe, testSetup } from './pathTest.test-support';
import { SourceSettings } from './SourceSettings';

const place = { leftPx: 100, topPx: 50, widthPx: 1601, heightPx: 901 };
const screens: Screens = {
  trouble: null,
  displays: [{ name: 'DP-1', leftPx: 0, topPx: 0, widthPx: 2560, heightPx: 1440, rateHz: 144, primary: true }],
  windows: [{ windowId: 7, title: 'Oil Street', program: 'oilstreet', ...place }],
};
const windowSource: Source = {
  kind: 'window',
  windowId: 7,
  title: 'Oil Street',
  whenClosed: 'end',
  ...place,
  pointer: true,
};

/** What the server answers; what it was asked is kept. */
function answering(
  now: Screens,
  look: { status: number; body: unknown } = {
    status: 409,
    body: { type: '/problems/no-source', title: 'T', status: 409, detail: 'The window is closed or hidden.' },
  },
) {
  const asked: { path: string; body: unknown }[] = [];
  let leftAlone: string[] = [];
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    const path = new URL(call.url).pathname;
    const body: unknown = call.method === 'GET' ? null : await call.clone().json();
    asked.push({ path, body });
    const json = (status: number, value: unknown) =>
      new Response(JSON.stringify(value), { status, headers: { 'Content-Type': 'application/json' } });
    if (path === '/api/screens') return json(200, now);
    if (path === '/api/programs') return json(200, ['mail', 'oilstreet']);
    if (path === '/api/left-alone') {
      if (body) leftAlone = (body as { names: string[] }).names;
      return json(200, leftAlone);
    }
    if (path === '/api/screens/look') return json(look.status, look.body);
    const { game } = body as { game: Setup['game'] };
    return json(200, { ...testSetup, game });
  });
  return asked;
}
const rail = (name: string) => screen.findByRole('radiogroup', { name });
const stop = async (of: string, name: string) => within(await rail(of)).findByRole('radio', { name });
afterEach(() => jest.restoreAllMocks());

describe('the source of a recipe', () => {
  it('is chosen among what is shown now; the game is a person’s own then, with even sides', async () => {
    const asked = answering(screens);
    const path = testPath();
    showPath(path, <SourceSettings />);
    const radio = await stop('Source', 'window');
    expect(radio).toBeEnabled();
    await userEvent.click(radio);
    await waitFor(() => expect(path.applied.map((recipe) => recipe.source)).toEqual([windowSource]));
    const patch = asked.find(({ path: at }) => at === `/api/setups/${testSetup.id}`)?.body as { game: Setup['game'] };
    expect(patch.game).toMatchObject({ kind: 'own', title: 'Oil Street', widthPx: 1600, heightPx: 900, capFps: null });
  });

  it('cannot be on a screen that is not there: why is said, and the practice game stays', async () => {
    answering({ trouble: 'No display is known here.', displays: [], windows: [] });
    const path = testPath();
    showPath(path, <SourceSettings />);
    expect(await screen.findByText(/No display is known here. The practice game can be recorded/)).toBeInTheDocument();
    for (const kind of ['window', 'display', 'part of the screen']) expect(await stop('Source', kind)).toBeDisabled();
    expect(await stop('Source', 'practice game')).toBeChecked();
  });

  it('programs are left alone by name, and let be recorded again', async () => {
    answering(screens);
    showPath(testPath({ draft: { ...testRecipe, source: windowSource } }), <SourceSettings />);
    expect(await screen.findByText('no program')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^Program to leave alone/ }));
    const field = await screen.findByRole('combobox', { name: /^Name of the program/ });
    // What is chosen now is at hand.
    expect(field).toHaveValue('oilstreet');
    await userEvent.clear(field);
    await userEvent.type(field, 'mail{Enter}');
    await userEvent.click(screen.queryByRole('button', { name: 'Take it' }) ?? document.body);
    await userEvent.click(await screen.findByRole('button', { name: 'Let mail be recorded again' }));
    expect(await screen.findByText('no program')).toBeInTheDocument();
  });

  it('of a window: pointer and what closing it does are settings; what cannot be looked at is said', async () => {
    answering(screens);
    const path = testPath({ draft: { ...testRecipe, source: windowSource } });
    showPath(path, <SourceSettings />);
    await userEvent.click(await stop('Mouse pointer', 'left out'));
    await userEvent.click(await stop('When the window is closed', 'wait for it to come back'));
    expect(path.applied.map((recipe) => recipe.source)).toEqual([
      { ...windowSource, pointer: false },
      { ...windowSource, whenClosed: 'wait' },
    ]);
    expect(await screen.findByText('The window is closed or hidden.')).toBeInTheDocument();
  });

  it('is shown as it is now, with its size', async () => {
    const body = { widthPx: 1601, heightPx: 901, brightest: 200, mark: 'a', image: 'data:image/bmp;base64,Qk0=' };
    answering(screens, { status: 200, body });
    showPath(testPath({ draft: { ...testRecipe, source: windowSource } }), <SourceSettings />);
    expect(await screen.findByAltText('What would be recorded now, 1601×901')).toHaveAttribute('src', body.image);
  });

  it('of a display names each with its size and rate', async () => {
    answering(screens);
    const source: Source = {
      kind: 'display',
      name: 'DP-1',
      leftPx: 0,
      topPx: 0,
      widthPx: 2560,
      heightPx: 1440,
      pointer: true,
    };
    showPath(testPath({ draft: { ...testRecipe, source } }), <SourceSettings />);
    expect(await stop('Display', 'DP-1, 2560×1440 at 144 fps')).toBeChecked();
  });
});
