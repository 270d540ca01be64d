import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router';
import { idleState, type HeardLevels, type Recipe, type SoundDevices, type Source } from '@mellow/model';
import { createStore } from '../../store/store';
import { liveArrived } from '../../store/liveSlice';
import { testPath, testRecipe, testSetup, showPath } from '../path/pathTest.test-support';
import { SoundSettings } from '../path/SoundSettings';
import { SoundPlace } from './SoundPlace';

const devices: SoundDevices = { trouble: null, by: 'pulse', devices: [], programs: [] };
const levelsOf = (away: readonly string[] = []): HeardLevels => ({
  sounds: testRecipe.sounds.map(({ id }) => ({
    id,
    state: away.includes(id) ? 'away' : 'alive',
    peakDbfs: away.includes(id) ? null : -20,
    rmsDbfs: null,
    loudnessLufs: null,
    why: null,
  })),
  lanes: testRecipe.lanes.map(() => ({ peakDbfs: -12, loudnessLufs: -20 })),
});

/** A server that answers what Sound asks, and keeps what it is told. */
function serve(levels: HeardLevels | number, found: SoundDevices | number = devices) {
  const drafts: Recipe[] = [];
  const asked: string[] = [];
  globalThis.fetch = jest.fn(async (request: Request) => {
    const path = new URL(request.url).pathname;
    asked.push(path);
    const answer = (body: unknown) =>
      typeof body === 'number'
        ? Response.json(
            { type: 'x', title: 'x', status: body, detail: 'It did not work. Try again.' },
            { status: body },
          )
        : Response.json(body);
    if (path === '/api/sounds') return answer(found);
    if (path === '/api/sounds/levels') return answer(levels);
    if (path.endsWith('/draft')) drafts.push(((await request.json()) as { recipe: Recipe }).recipe);
    return answer(testSetup);
  }) as never;
  return { drafts, asked };
}

function show(recipe: Recipe = testRecipe, recorder: 'idle' | 'armed' = 'idle') {
  const store = createStore();
  if (recorder !== 'idle') store.dispatch(liveArrived({ ...idleState, serial: 1, recorder }));
  const setup = { ...testSetup, draft: recipe };
  const tools = document.createElement('div');
  document.body.append(tools);
  const router = createMemoryRouter(
    [
      {
        path: '/setups/s',
        element: <Outlet context={{ setup, trials: [], takes: [], tools }} />,
        children: [{ path: 'sound', element: <SoundPlace /> }],
      },
    ],
    { initialEntries: ['/setups/s/sound'] },
  );
  return render(
    <Provider store={store}>
      <RouterProvider router={router} />
    </Provider>,
  );
}

describe('the sentence of Sound', () => {
  it('says that every sound is alive', async () => {
    serve(levelsOf());
    show();
    expect(await screen.findByText('3 lanes go into the file, and every sound on them is alive.')).toBeInTheDocument();
  });
  it('names what is not heard', async () => {
    serve(levelsOf(['voice', 'chat']));
    show();
    expect(await screen.findByText('3 lanes go into the file; Voice and Chat are not heard.')).toBeInTheDocument();
  });
  it('says that a file without lanes is silent', async () => {
    serve(levelsOf());
    show({ ...testRecipe, lanes: [] });
    expect(await screen.findByText('No lane: the file will be silent.')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: /Hear the last 10 s/ })).toBeDisabled();
  });
});

describe('Sound', () => {
  it('shows a clash first, and its remedy is one press', async () => {
    const { drafts } = serve(levelsOf());
    const window: Source = {
      kind: 'window',
      windowId: 7,
      title: 'Game',
      whenClosed: 'end',
      ...{ leftPx: 0, topPx: 0, widthPx: 1280, heightPx: 720, pointer: true },
    };
    show({ ...testRecipe, source: window });
    await userEvent.click(await screen.findByRole('button', { name: 'Hear this PC and the microphone' }));
    expect(drafts[0]?.sounds.map(({ from }) => from.kind)).toEqual(['device', 'device']);
  });
  it('says why no level comes, and keeps the rest', async () => {
    serve(500);
    show();
    expect(await screen.findByText('No level can be shown')).toBeInTheDocument();
    expect(screen.getByText('It did not work. Try again.')).toBeInTheDocument();
    expect(screen.getByRole('region', { name: 'Kept' })).toBeInTheDocument();
  });
  it('leaves devices alone while a take is made', async () => {
    const { asked } = serve(levelsOf());
    show(testRecipe, 'armed');
    expect(await screen.findByText('A take is being made')).toBeInTheDocument();
    expect(asked).not.toContain('/api/sounds/levels');
  });
  it('cannot ask for devices: it says so, and offers to try again', async () => {
    serve(levelsOf(), 500);
    show();
    expect(await screen.findByRole('button', { name: 'Try again' })).toBeInTheDocument();
  });
});

describe('Path’s Sound', () => {
  it('is the lanes in short, with the way to their place', () => {
    showPath(testPath(), <SoundSettings />);
    expect(screen.getByText('Everything, FLAC')).toBeInTheDocument();
    expect(screen.getByText('Game, Voice and Chat')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Sounds, lanes and levels' })).toHaveAttribute('href', '/sound');
  });
  it('says that there is none', () => {
    showPath(testPath({ draft: { ...testRecipe, lanes: [] } }), <SoundSettings />);
    expect(screen.getByText('No lane: the file will be silent.')).toBeInTheDocument();
  });
});
