import { plainPracticeGame, startRecipe } from '@mellow/core';
import { type Judged, briefSchema, type Setup, type Take } from '@mellow/model';
import { setupState } from './setupState';
import { setupsSentence } from './SetupsPlace';

const draft = startRecipe({ purpose: 'long-play', sessionMinutes: 90 }, plainPracticeGame, 'd');
const setup: Setup = {
  id: 's',
  name: 'Comets',
  demo: false,
  game: plainPracticeGame,
  brief: briefSchema.parse({ purpose: 'long-play', sessionMinutes: 90 }),
  draft,
  start: draft,
  machineId: 'this',
  sample: null,
  hindsight: null,
  withGame: null,
  locks: [],
  undoDepth: 0,
  versions: [],
  createdAt: '',
};
const trial = (change: Partial<Take>) =>
  ({
    id: 't',
    setupId: 's',
    number: 1,
    recipe: draft,
    recipeVersion: 1,
    summary: { due: 600, filed: 600 },
    verdict: { mark: 'keep', sentence: '', facts: [], findings: [], limits: [] },
    facts: null,
    createdAt: '',
    ...change,
  }) as Take;

const costLimit: Judged = {
  ...{ limit: 'play-cost', name: 'Play cost', state: 'broken', grave: true, known: true },
  ...{ value: 0.17, low: 0.13, high: 0.21, asked: 'at most 5.0 %', found: '17 % (13 to 21 %)' },
  ...{ sentence: 'Recording took 17 % of the game.', answer: 4 },
};

describe('how a setup stands', () => {
  it.each<[string, Setup, Take[], string, RegExp]>([
    ['new', setup, [], 'new', /has not been tried/],
    ['tried and kept', setup, [trial({})], 'ready', /kept all 600 frames/],
    [
      'with losses',
      setup,
      [
        trial({
          verdict: { mark: 'look', sentence: '', facts: [], findings: [], limits: [] },
          summary: { due: 600, filed: 590 } as Take['summary'],
        }),
      ],
      'look',
      /all but 10 of 600/,
    ],
    [
      'beyond a limit',
      setup,
      [trial({ verdict: { mark: 'look', sentence: '', facts: [], findings: [], limits: [costLimit] } })],
      'look',
      /Trial 1: play cost 17 % \(13 to 21 %\)\./,
    ],
    [
      'changed since',
      { ...setup, draft: { ...draft, encode: { ...draft.encode, quality: 18 } } },
      [trial({})],
      'wants-trial',
      /quality 20 to 18 since trial 1/,
    ],
    [
      'with a clash',
      { ...setup, draft: { ...draft, encode: { ...draft.encode, bFrames: 2, lowDelay: true } } },
      [trial({})],
      'clash',
      /B-frames and low delay/,
    ],
  ])('%s', (_, given, trials, kind, text) => {
    const state = setupState(given, trials);
    expect(state.kind).toBe(kind);
    expect(state.text.replaceAll('\u2009', ' ')).toMatch(text);
    expect(state.next.to).toMatch(/^\/(setups\/s\/path|takes\/t)$/);
  });
  it('is told in one sentence', () => {
    expect(setupsSentence([], [])).toBe('No setup yet.');
    expect(setupsSentence([setup], [])).toBe('One setup, and it is new.');
    expect(setupsSentence([setup, { ...setup, id: 'o' }], [trial({})])).toBe(
      'Two setups: one is tried and kept and one is new.',
    );
  });
});
