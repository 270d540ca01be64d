import { render, type RenderResult } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { adviceFor, forecastOf, kestrel, plainPracticeGame, seedOf, startRecipe, wren } from '@mellow/core';
import { briefSchema, gameFactsSchema, type DriveState, type Recipe, type Setup } from '@mellow/model';
import { createAnswerer } from '../../forecast/answerOrder';
import type { OutlookOrder, OutlookReply } from '../../forecast/messages';
import { contextOf } from '../../forecast/useForecastContext';
import { createStore } from '../../store/store';
import { PathContext, type PathState } from './pathContext';

export const testDrive: DriveState = {
  id: 'footage',
  name: 'Footage',
  folder: '/srv',
  quotaBytes: null,
  mark: null,
  speedTyped: false,
  tests: [],
  writeBytesPerSecond: 200e6,
  freeBytes: 1e11,
  totalBytes: 2e11,
  takesBytes: 1e9,
  kind: 'solid state',
  deviceId: 'sda',
  largestFileBytes: null,
  problem: null,
};
const game = {
  ...plainPracticeGame,
  facts: gameFactsSchema.parse({ motion: 'fast', freeFps: 140, driveId: 'elsewhere' }),
};
const brief = briefSchema.parse({ purpose: 'long-play', sessionMinutes: 90 });
export const testRecipe = startRecipe(brief, game, 'footage');
export const testSetup: Setup = {
  id: 's',
  name: 'Comets',
  demo: false,
  game,
  brief,
  draft: testRecipe,
  start: testRecipe,
  machineId: 'this',
  sample: null,
  hindsight: null,
  withGame: null,
  locks: [],
  undoDepth: 0,
  versions: [],
  createdAt: '',
};
/** This PC in tests: measured, with what Kestrel has. */
export const testMachine = { ...kestrel, id: 'this', name: 'this PC', origin: 'measured' as const, demo: false };

/** Answers to one order are the same, and a test's sandbox simulates slowly. */
const known = new Map<string, OutlookReply>();
function outlookFor(order: OutlookOrder): OutlookReply {
  const key = JSON.stringify(order);
  const reply = known.get(key) ?? createAnswerer()(order);
  known.set(key, reply);
  return reply;
}

/** The state of Path around a recipe, with a real simulation behind it. */
export function testPath(
  change: Partial<Setup> = {},
  part: Partial<PathState> = {},
): PathState & { applied: Recipe[]; looked: (Recipe | null)[] } {
  const setup = { ...testSetup, ...change };
  const context = contextOf(setup, [], testMachine, [testDrive]);
  const recipe = setup.draft;
  const forecast = forecastOf(recipe, context);
  const outlook = outlookFor({
    serial: 1,
    recipe,
    considered: null,
    context: { ...context, drives: [...context.drives], locks: [...context.locks] },
    seed: seedOf(setup.game, setup.id),
    seeds: 1,
    measured: [],
    judge: true,
  });
  const applied: Recipe[] = [];
  const looked: (Recipe | null)[] = [];
  return {
    setup,
    recipe,
    trials: [],
    samples: [],
    drives: [testDrive],
    machines: [testMachine, kestrel, wren],
    machine: testMachine,
    context,
    forecast,
    advice: adviceFor(recipe, context, forecast),
    outlook,
    outlookIsCurrent: true,
    judgement: outlook.judgement,
    judgementIsCurrent: true,
    lastTrial: null,
    outlookProblem: null,
    considered: null,
    change: (next) => void applied.push(next),
    consider: (_, next) => void looked.push(next),
    applied,
    looked,
    ...part,
  };
}

export const showPath = (path: PathState, content: ReactNode): RenderResult =>
  render(
    <Provider store={createStore()}>
      <MemoryRouter>
        <PathContext value={path}>{content}</PathContext>
      </MemoryRouter>
    </Provider>,
  );
