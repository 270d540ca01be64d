import { act, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactElement } from 'react';
import { Provider } from 'react-redux';
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router';
import { createColumns, summarise, kestrel, recipeCardOf, forecastOf, wren } from '@mellow/core';
import type { MachineSheet, Setup, Take } from '@mellow/model';
import type { ShownOutlook } from '../forecast/useOutlook';
import { api } from '../store/api';
import { createStore, type AppStore } from '../store/store';
import { StateWindowFrame } from './state/StateWindow';
import { BriefPlace } from './brief/BriefPlace';
import { CardPlace } from './card/CardPlace';
import { MachinePlace } from './machine/MachinePlace';
import { PathPlace } from './path/PathPlace';
import { testDrive, testMachine, testPath, testRecipe, testSetup } from './path/pathTest.test-support';
import { RollPlace } from './roll/RollPlace';

// The worker is not there in these tests; what it answers is computed by the same code.
jest.mock('../forecast/useOutlook', () => ({
  useOutlook: (): ShownOutlook => ({
    reply: mockOutlook,
    current: true,
    judgement: mockOutlook?.judgement ?? null,
    judgementIsCurrent: true,
    problem: mockProblem,
  }),
}));
let mockOutlook: ShownOutlook['reply'] = null;
let mockProblem: string | null = null;
beforeEach(() => {
  mockOutlook = testPath().outlook;
  mockProblem = null;
});

const emptySummary = summarise(createColumns(0), {
  ...{ rate: testRecipe.rate, seconds: [], cores: 8, tailFrames: 0 },
  ...{ presented: null, passedOver: null, notReached: null },
});

interface Around {
  setup?: Setup;
  trials?: Take[];
  machines?: MachineSheet[];
}

/** A place within a setup, with a store that has what the server would answer. */
async function show(
  place: ReactElement,
  { setup = testSetup, trials = [], machines = [testMachine, kestrel, wren] }: Around = {},
): Promise<AppStore> {
  const store = createStore();
  await store.dispatch(api.util.upsertQueryData('machines', undefined, machines));
  await store.dispatch(api.util.upsertQueryData('drives', undefined, [testDrive]));
  await store.dispatch(api.util.upsertQueryData('setups', undefined, [setup]));
  await store.dispatch(api.util.upsertQueryData('takes', undefined, trials));
  const tools = document.createElement('div');
  document.body.append(tools);
  const router = createMemoryRouter(
    [
      {
        path: '/setups/s',
        element: <Outlet context={{ setup, trials, takes: trials, tools }} />,
        children: [{ path: '*', element: place }],
      },
    ],
    { initialEntries: ['/setups/s/here'] },
  );
  render(
    <Provider store={store}>
      <StateWindowFrame>
        <RouterProvider router={router} />
      </StateWindowFrame>
    </Provider>,
  );
  return store;
}

/** A finished trial of the recipe; only what the places look at. */
const trialOf = (recipe: Take['recipe'], change: Partial<Take> = {}): Take => ({
  id: 't1',
  setupId: 's',
  number: 1,
  kind: 'trial',
  state: 'closed',
  end: 'length',
  endText: null,
  recipeVersion: 1,
  recipe,
  game: testSetup.game,
  machine: { name: 'this PC', cores: 8, processor: 'p', memoryBytes: 1e9, system: 's', origin: 'measured' },
  demo: false,
  clock: 'real',
  lengthS: 10,
  createdAt: '2026-11-25T10:00:00Z',
  driveId: 'footage',
  fileName: 'x.mkv',
  filePath: '/x.mkv',
  facts: null,
  summary: null,
  playCost: null,
  likeness: null,
  unpaced: null,
  brief: null,
  verdict: { mark: 'keep', sentence: 'Keep it.', facts: [], findings: [], limits: [] },
  prediction: null,
  files: [],
  stripes: null,
  marks: [],
  discarded: null,
  cuts: [],
  sampleLeftOut: 0,
  source: { kind: 'practice' },
  sounds: [],
  camera: null,
  fileOffsetUs: 0,
  tailFrames: 0,
  ...change,
});

describe('Brief', () => {
  it('stands as one sentence with words to change, and shows what follows station by station', async () => {
    await show(<BriefPlace />);
    expect(screen.getByRole('heading', { level: 1 })).toHaveAccessibleName(
      'Long play of Paper Comets on this PC for a video site',
    );
    const follows = within(screen.getByRole('region', { name: 'What follows' }));
    const headings = follows.getAllByRole('heading', { level: 3 }).map((h) => h.textContent);
    expect(headings).toHaveLength(7);
    expect(headings[1]).toMatch(/^Straight from the game, 60 fps/);
    expect(
      follows.getByText('A long session: by the rate model 2 steps finer would be about a quarter larger.', {
        exact: false,
      }),
    ).toBeInTheDocument();
  });
  it('marks each value with the answer it follows from', async () => {
    await show(<BriefPlace />);
    const follows = within(screen.getByRole('region', { name: 'What follows' }));
    expect(follows.getAllByTitle('follows from answer 1').length).toBeGreaterThan(0);
    expect(follows.getAllByTitle('follows from answer 4').length).toBeGreaterThan(0);
  });
  it('lets changed values wait as a start, and says by what the recipe differs', async () => {
    await show(<BriefPlace />, {
      setup: { ...testSetup, draft: { ...testRecipe, encode: { ...testRecipe.encode, quality: 26 } } },
      trials: [trialOf(testRecipe)],
    });
    expect(screen.getByText(/Your recipe differs: quality 26 to 20/)).toBeInTheDocument();
    expect(screen.getByText(/1 trial since/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Use these values' })).toBeEnabled();
  });
  it('asks no layout of sound where the answer would not count', async () => {
    await show(<BriefPlace />, { setup: { ...testSetup, brief: { ...testSetup.brief, purpose: 'light' } } });
    expect(screen.queryByRole('radiogroup', { name: 'Sound' })).toBeNull();
    expect(screen.getByRole('heading', { level: 1 })).toHaveAccessibleName(/^As light as it gets of Paper Comets/);
  });
  it('says so when its machine is gone, and when the simulation failed', async () => {
    mockProblem = 'no memory';
    await show(<BriefPlace />, { setup: { ...testSetup, machineId: 'gone' } });
    expect(screen.getByRole('button', { name: /^Machine: a machine that is gone/ })).toHaveClass('open');
    expect(screen.getByText('the simulation failed')).toBeInTheDocument();
  });
});

describe('Path', () => {
  it('shows every station with its choice and load, the file, and the next step', async () => {
    await show(<PathPlace />);
    const ribbon = within(screen.getByRole('region', { name: 'Frame path' }));
    for (const name of ['Game', 'Capture', 'Size', 'Encode', 'Pack', 'Drive', 'Sound'])
      expect(ribbon.getByRole('button', { name })).toBeInTheDocument();
    expect(ribbon.getByText('AVC in software, lightest effort, quality 20')).toBeInTheDocument();
    expect(ribbon.getByText(/per hour/)).toBeInTheDocument();
    expect(screen.getByRole('region', { name: 'The next ten seconds' })).toBeInTheDocument();
  });
  it('goes from station to station by keys', async () => {
    const store = await show(<PathPlace />);
    const before = store.getState().ui.station;
    await userEvent.keyboard('{]}');
    expect(store.getState().ui.station).not.toBe(before);
    await userEvent.keyboard('[[');
    expect(store.getState().ui.station).toBe(before);
  });
  it('names the draft: first, a number, an earlier one, or what changed since', async () => {
    const better = { ...testRecipe, encode: { ...testRecipe.encode, quality: 18 } };
    const versions = [
      { number: 1, recipe: testRecipe, createdAt: '' },
      { number: 2, recipe: better, createdAt: '' },
    ];
    await show(<PathPlace />);
    expect(screen.getByText('First recipe, not tried yet')).toBeInTheDocument();
    await show(<PathPlace />, { setup: { ...testSetup, draft: better, versions } });
    expect(screen.getByText(', unchanged')).toBeInTheDocument();
    await show(<PathPlace />, { setup: { ...testSetup, versions } });
    expect(screen.getByText(', an earlier one')).toBeInTheDocument();
    await show(<PathPlace />, { setup: { ...testSetup, draft: { ...better, container: 'mp4' }, versions } });
    expect(screen.getByText(/file type Matroska to MP4/)).toBeInTheDocument();
  });
  it('says that a kept trial leaves nothing to change', async () => {
    await show(<PathPlace />, { trials: [trialOf(testRecipe)] });
    expect(screen.getByRole('heading', { name: 'Nothing has to change' })).toBeInTheDocument();
  });
  it('sends to a trial that was not kept, with what was said of it', async () => {
    const verdict = {
      mark: 'look' as const,
      sentence: 'Look again. Voice is silent.',
      facts: [],
      findings: [],
      limits: [],
    };
    await show(<PathPlace />, { trials: [trialOf(testRecipe, { verdict })] });
    expect(screen.getByRole('heading', { name: 'Next: make the trial again' })).toBeInTheDocument();
    expect(screen.getByText(/Trial 1 of this recipe: Look again. Voice is silent./)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'See trial 1' })).toHaveAttribute('href', '/takes/t1');
  });
  it('says that a disturbed trial does not count, why, and what to do', async () => {
    const kept = trialOf(testRecipe);
    const disturbed = {
      ...kept,
      summary: {
        ...emptySummary,
        disturbed: true,
        processor: { gameShare: 0.2, recorderShare: 0.1, othersShare: 0.24, cores: 8 },
      },
    };
    await show(<PathPlace />, { trials: [disturbed] });
    expect(screen.getByRole('heading', { name: 'Trial 1 does not count: make it again' })).toBeInTheDocument();
    expect(screen.getByText(/Other programs used 24.% of the processor/)).toBeInTheDocument();
  });
  it('has an empty strip until the simulation has answered', async () => {
    mockOutlook = null;
    await show(<PathPlace />);
    expect(screen.getByText(/The path is simulated in a worker/)).toBeInTheDocument();
    expect(screen.getByText('Play cost and misses are simulated.')).toBeInTheDocument();
  });
  it('puts the same recipe beside another machine, which says that it is simulated', async () => {
    await show(<PathPlace />);
    await userEvent.click(screen.getByRole('button', { name: 'On another machine' }));
    const dialog = within(screen.getByRole('dialog'));
    expect(dialog.getByRole('columnheader', { name: 'Kestrel simulated' })).toBeInTheDocument();
    expect(dialog.getByRole('columnheader', { name: 'this PC' })).toBeInTheDocument();
    expect(dialog.getAllByRole('row').length).toBeGreaterThan(9);
    await userEvent.selectOptions(dialog.getByRole('combobox', { name: 'Other machine' }), 'wren');
    expect(dialog.getByRole('columnheader', { name: 'Wren simulated' })).toBeInTheDocument();
  });
});

describe('the recipe card', () => {
  const bringIn = async (name: string, text: string) =>
    // The page environment of the tests has files without their text.
    act(async () =>
      userEvent.upload(
        screen.getByLabelText('Card to bring in'),
        Object.assign(new File([text], name, { type: 'application/json' }), { text: async () => text }),
      ),
    );
  const card = () => {
    const { context } = testPath();
    return recipeCardOf({
      name: 'Theirs',
      madeAt: '2026-11-25T00:00:00Z',
      recipe: { ...testRecipe, driveId: 'kestrel-barn', encode: { ...testRecipe.encode, encoder: 'av1-card' } },
      context,
      forecast: forecastOf(testRecipe, context),
      reasons: [],
    });
  };
  it('shows settings with reasons, and tells which were set by hand', async () => {
    await show(<CardPlace />, {
      setup: { ...testSetup, draft: { ...testRecipe, encode: { ...testRecipe.encode, quality: 26 } } },
    });
    expect(screen.getByRole('row', { name: /^Quality/ })).toHaveTextContent('Set by hand; the brief leads to 20.');
    expect(screen.getByRole('row', { name: /^Frame rate/ })).toHaveTextContent('60 fps');
    expect(screen.getByRole('row', { name: /^Level and codec string/ })).toHaveTextContent('avc1.');
  });
  it('of somebody else comes in with a line for all that does not fit here', async () => {
    await show(<CardPlace />);
    await bringIn('theirs.json', JSON.stringify(card()));
    const report = within(await screen.findByRole('region', { name: 'The card that was brought in' }));
    expect(report.getAllByRole('listitem')).toHaveLength(2);
    expect(report.getByText(/AV1 on graphics card does not work here/)).toBeInTheDocument();
    await userEvent.click(report.getByRole('button', { name: 'Leave it' }));
    expect(screen.queryByRole('region', { name: 'The card that was brought in' })).toBeNull();
  });
  it.each([
    ['photo.json', 'not JSON at all', /photo\.json is no JSON/],
    ['list.json', '[]', /is no recipe card of this version/],
    ['newer.json', JSON.stringify({ format: 'mellow-frame-recipe-card', version: 99 }), /version/],
  ])('refuses %s with what is wrong, and changes nothing', async (name, text, words) => {
    await show(<CardPlace />);
    await bringIn(name, text);
    expect(await screen.findByRole('alert')).toHaveTextContent(words);
    expect(screen.getByRole('alert')).not.toHaveTextContent('undefined');
  });
});

describe('Machine', () => {
  it('is this PC first, with what was proven; a simulated one is chosen and says that nothing of it was measured', async () => {
    await show(<MachinePlace />, { machines: [{ ...testMachine, provenAt: '2026-11-25T10:00:00Z' }, kestrel] });
    expect(screen.getByRole('heading', { name: 'Encoders, proven by test' })).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Try the encoders again' })).toBeEnabled();
    await userEvent.click(screen.getByRole('button', { name: /^Machine: This PC/ }));
    await userEvent.click(screen.getByRole('menuitem', { name: 'Kestrel, simulated' }));
    expect(screen.getByText(/every figure here is assumed, none was measured/)).toBeInTheDocument();
    expect(screen.getByRole('heading', { name: 'Encoders, assumed' })).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /Try the encoders/ })).toBeNull();
    expect(screen.getByRole('link', { name: /Save the machine sheet/ })).toHaveAttribute(
      'href',
      '/api/machines/kestrel/sheet',
    );
  });
  it('shows what 16:9 makes of each display', async () => {
    await show(<MachinePlace />, { machines: [{ ...testMachine, displays: kestrel.displays }] });
    expect(screen.getByText(/Left display: fills 1080 lines, nothing lost/)).toBeInTheDocument();
    // 1920x1200 fitted into 1920x1080: 1728 columns, (1920 - 1728) / 2 at each side.
    expect(screen.getByText(/Right display: bars of 96 px/)).toBeInTheDocument();
  });
  it('before any test says what the test is for', async () => {
    await show(<MachinePlace />, { machines: [{ ...testMachine, encoders: [], provenAt: null }] });
    expect(screen.getByRole('heading', { level: 1 })).toHaveTextContent(/has not been measured/);
    expect(screen.getByText(/A driver’s word is not enough/)).toBeInTheDocument();
  });
});

describe('Roll', () => {
  it('without a take looks at everything, and rolls without a length or with one', async () => {
    await show(<RollPlace />);
    const lines = screen.getAllByRole('listitem').map((line) => line.textContent);
    expect(lines).toEqual(expect.arrayContaining([expect.stringMatching(/^fineCrash-safe file/)]));
    const asked: unknown[] = [];
    jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
      const call = input as Request;
      // Nothing else is answered: what the store has stays.
      if (!call.url.endsWith('/trials')) return new Promise<Response>(() => {});
      asked.push(await call.clone().json());
      return new Response('{}', { status: 500 });
    });
    await userEvent.click(screen.getByRole('button', { name: /^Roll R$/ }));
    await waitFor(() => expect(asked).toEqual([{ lengthS: null, kind: 'full' }]));
    await userEvent.click(screen.getByText('stops by itself after'));
    await userEvent.keyboard('r');
    await waitFor(() => expect(asked[1]).toEqual({ lengthS: testSetup.brief.sessionMinutes * 60, kind: 'full' }));
  });
  it('says what stops it, with the remedy one press away', async () => {
    await show(<RollPlace />, {
      setup: { ...testSetup, draft: { ...testRecipe, size: { ...testRecipe.size, widthPx: 641 } } },
    });
    expect(screen.getByRole('heading', { name: 'Not ready' })).toBeVisible();
    expect(screen.getByText(/has an odd side/)).toBeVisible();
    expect(screen.getByRole('button', { name: /^Use 640/ })).toBeEnabled();
    expect(screen.getByRole('button', { name: /^Roll R$/ })).toBeDisabled();
  });
});
