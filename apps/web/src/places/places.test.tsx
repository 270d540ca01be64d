import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { plainPracticeGame, startRecipe } from '@mellow/core';
import { causes, fates, stationNames, type LiveTake, type Take } from '@mellow/model';
import { Ribbon, type RibbonStation } from '../parts/Ribbon';
import { createStore } from '../store/store';
import { soundWords, stationChoices } from './path/pathWords';
import { LastMinute } from './roll/LastMinute';
import { Facts } from './take/Facts';
import { Findings } from './take/Findings';
import { Predicted } from './take/Predicted';
import { TrialRows } from './trials/TrialRows';

const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 90 }, plainPracticeGame, 'footage');
const drive = { name: 'Footage', kind: 'solid state' as const };
const run = (meanFps: number, low: number | null) => ({
  seconds: 5,
  frames: 600,
  meanFps,
  onePercentLowFps: low,
  slowestMs: [14.2, 12],
  blocks: [],
  turnBlocks: [],
});
const counts = (names: readonly string[], given: Record<string, number>) =>
  Object.fromEntries(names.map((name) => [name, given[name] ?? 0]));

function trial(number: number, change: Partial<Take> = {}, lost = 0): Take {
  return {
    id: `t${number}`,
    setupId: 's',
    number,
    kind: 'trial',
    state: 'closed',
    end: 'length',
    endText: null,
    recipeVersion: number,
    recipe,
    game: plainPracticeGame,
    machine: { name: 'this PC', cores: 2, processor: 'p', memoryBytes: 1, system: 's', origin: 'measured' },
    demo: false,
    clock: 'real',
    lengthS: 10,
    createdAt: `2026-11-25T0${number}:00:00Z`,
    driveId: 'footage',
    fileName: 'x.mkv',
    filePath: '/srv/x.mkv',
    facts: { bytes: 4e6, picture: { pictureBytes: 3e6 }, durationUs: 1e7, lanes: [] } as unknown as Take['facts'],
    summary: {
      due: 600,
      filed: 600 - lost,
      fates: counts(fates, { new: 600 - lost, 'encode-miss': lost }),
      causes: counts(causes, { 'queue-full': lost }),
      loads: Object.fromEntries(stationNames.map((name) => [name, { usualMs: 4, busiestMs: 8, budgetMs: 16.7 }])),
    } as unknown as Take['summary'],
    playCost: { without: run(124, null), with: run(117, null), pairs: 2, interval: { low: 0.05, high: 0.062 } },
    likeness: null,
    unpaced: null,
    brief: null,
    verdict: {
      mark: lost ? 'look' : 'keep',
      sentence: lost ? 'Look again.' : 'Keep it.',
      facts: [],
      findings: [],
      limits: [],
    },
    prediction: null,
    files: [],
    stripes: null,
    marks: [],
    discarded: null,
    cuts: [],
    sampleLeftOut: 0,
    source: { kind: 'practice' },
    fileOffsetUs: 0,
    sounds: [],
    camera: null,
    tailFrames: 0,
    ...change,
  };
}

const show = (content: ReactNode) =>
  render(
    <Provider store={createStore()}>
      <MemoryRouter>{content}</MemoryRouter>
    </Provider>,
  );

describe('trials in rows', () => {
  it('say what differed, what was lost, what it cost and whether that is more than chance', () => {
    const changed = { ...recipe, encode: { ...recipe.encode, quality: 26 } };
    show(
      <TrialRows
        trials={[
          trial(
            3,
            { recipe: changed, facts: { bytes: 2e6, picture: { pictureBytes: 1e6 } } as unknown as Take['facts'] },
            12,
          ),
          trial(2, { id: 't2b' }),
          trial(1),
          trial(0, { id: 't0' }),
        ]}
      />,
    );
    const rows = screen.getAllByRole('row');
    expect(rows).toHaveLength(5);
    const third = within(rows[1]!);
    expect(third.getByText('quality 20 to 26')).toBeInTheDocument();
    expect(third.getByText('12')).toBeInTheDocument();
    expect(third.getByText('−5.6 %')).toBeInTheDocument();
    expect(third.getByText(/size −50 % \(±/)).toBeInTheDocument();
    expect(within(rows[2]!).getByText('unchanged')).toBeInTheDocument();
    expect(within(rows[2]!).getByText(/A repeat/)).toBeInTheDocument();
  });
  it('do not compare a simulated trial with a measured one, and mark it', () => {
    const simulated = {
      name: 'Kestrel',
      cores: 8,
      processor: 'p',
      memoryBytes: 1,
      system: 's',
      origin: 'simulated' as const,
    };
    show(<TrialRows trials={[trial(3, { machine: simulated }), trial(2), trial(1), trial(0)]} />);
    const rows = screen.getAllByRole('row');
    expect(within(rows[1]!).getByText('simulated')).toBeInTheDocument();
    expect(within(rows[1]!).queryByText(/Equal|differ|repeat/)).toBeNull();
    expect(within(rows[2]!).queryByText('simulated')).toBeNull();
    expect(within(rows[2]!).getByText(/A repeat/)).toBeInTheDocument();
  });
  it('have an empty state', () => {
    show(<TrialRows trials={[]} />);
    expect(screen.getByText('No trial yet.')).toBeInTheDocument();
  });
  it('ask before a trial is deleted', async () => {
    const deleted: number[] = [];
    show(<TrialRows trials={[trial(1)]} onDelete={(take) => deleted.push(take.number)} />);
    await userEvent.click(screen.getByRole('button', { name: 'Delete trial 1' }));
    expect(deleted).toEqual([1]);
  });
});

describe('a take’s facts and findings', () => {
  it('mark what does not hold by more than colour', () => {
    const take = trial(1, {
      verdict: {
        mark: 'look',
        sentence: '',
        findings: [],
        limits: [],
        facts: [
          { name: 'Colour', asked: 'Rec. 709', found: 'unspecified', holds: false },
          { name: 'Length', asked: '4 s', found: '4 s', holds: true },
        ],
      },
    });
    show(<Facts take={take} />);
    expect(within(screen.getByRole('row', { name: /Colour/ })).getByTitle('does not hold')).toHaveTextContent('!');
    expect(within(screen.getByRole('row', { name: /Length/ })).getByTitle('holds')).toBeInTheDocument();
    expect(screen.getByRole('row', { name: /Play cost/ })).toHaveTextContent(
      '2 turns without and with recording−5.6 % (−6.2 to −5.0), slowest 14.2, was 14.2 ms',
    );
  });
  it('lead to the place on the timeline', async () => {
    const jumps: number[] = [];
    const finding = {
      id: 'x',
      tone: 'loss' as const,
      station: 'encode' as const,
      title: 'The encoder is too slow',
      text: 'It needs 19 ms.',
      change: 'Take a lighter effort.',
      atUs: 2_380_000,
    };
    show(
      <Findings
        take={trial(1, { verdict: { mark: 'look', sentence: '', facts: [], findings: [finding], limits: [] } })}
        onJump={(us) => jumps.push(us)}
      />,
    );
    await userEvent.click(screen.getByRole('button', { name: 'See 2.38 s' }));
    expect(jumps).toEqual([2_380_000]);
  });
  it('stand beside what was predicted, in its range or out of it', () => {
    const busiestMs = Object.fromEntries(stationNames.map((name) => [name, name === 'encode' ? 10 : null])) as Record<
      (typeof stationNames)[number],
      number | null
    >;
    const prediction = {
      madeAt: '',
      bitsPerSecond: { value: 4e6, low: 3.5e6, high: 4.5e6 },
      busiestMs,
      encodeMs: null,
      ssim: null,
      playCost: null,
      missesPerMinute: { value: 0, low: 0, high: 0.2 },
      gameFps: { without: 124, with: 120 },
    };
    show(<Predicted take={trial(1, { prediction }, 12)} />);
    expect(screen.getByRole('row', { name: /^Size/, hidden: true })).toHaveTextContent(
      '3.20 Mb/s−20 %, out of its range',
    );
    expect(screen.getByRole('row', { name: /^Encode, busiest/, hidden: true })).toHaveTextContent('10.0 ms8.0 ms−20 %');
    expect(screen.getByRole('row', { name: /^Misses/, hidden: true })).toHaveTextContent(
      '72.0, 12 lost+72.0, out of its range',
    );
  });
  it('say so when nothing stands out', () => {
    show(<Findings take={trial(1)} onJump={() => {}} />);
    expect(screen.getByText(/Nothing stands out/)).toBeInTheDocument();
  });
});

describe('the ribbon', () => {
  const stations = Object.fromEntries(
    stationNames.map((name) => [
      name,
      {
        what: stationChoices(recipe, plainPracticeGame, drive)[name],
        load: name === 'encode' ? { usual: 9, busiest: 17.2, budget: 16.7 } : null,
        unit: 'ms',
      } satisfies RibbonStation,
    ]),
  ) as Record<(typeof stationNames)[number], RibbonStation>;
  it('shows every station’s choice, an unknown load as unknown, and one over budget in a word', async () => {
    const chosen: string[] = [];
    show(
      <Ribbon
        stations={stations}
        sound={soundWords(recipe)}
        selected="encode"
        onSelect={(name) => chosen.push(name)}
        outcome={null}
      />,
    );
    expect(screen.getByText('AVC in software, lightest effort, quality 20')).toBeInTheDocument();
    expect(screen.getByText('1280×720, nothing to scale')).toBeInTheDocument();
    expect(screen.getByText('3 lanes: everything, voice, game')).toBeInTheDocument();
    expect(screen.getByText('over')).toBeInTheDocument();
    expect(screen.getAllByText('no trial yet')).toHaveLength(5);
    expect(screen.getByRole('button', { name: 'Encode' })).toHaveAttribute('aria-pressed', 'true');
    await userEvent.click(screen.getByRole('button', { name: 'Sound' }));
    expect(chosen).toEqual(['sound']);
  });
});

describe('the last minute', () => {
  it('always shows the counts of losses, not only once there is trouble', () => {
    const take = {
      fates: counts(fates, { new: 119, repeat: 1 }),
      lastMinute: [
        [60, 0, 0, 0, 0],
        [59, 1, 0, 0, 0],
      ],
    } as unknown as LiveTake;
    show(<LastMinute take={take} fps={60} />);
    expect(screen.getByText('119')).toBeInTheDocument();
    for (const name of ['Capture misses', 'Encode misses', 'Write misses'])
      expect(screen.getByText(name)).toBeInTheDocument();
    expect(screen.getAllByText('0')).toHaveLength(3);
  });
});
