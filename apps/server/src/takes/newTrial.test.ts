import { kestrel, plainPracticeGame, startRecipe } from '@mellow/core';
import { practiceSource, briefSchema, type Drive, type RecipeInput, type Setup } from '@mellow/model';
import { nameValuesOf, newTrial } from './newTrial';
import { encodableRecipe } from '../recorder/simulatedTake';
import { passagesFor } from '../orders/passages';

const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'footage');
const setup: Setup = {
  id: 's',
  name: 'Vale / seasons',
  demo: false,
  game: { ...plainPracticeGame, title: 'Harrow: Vale?' },
  brief: briefSchema.parse({ purpose: 'long-play', sessionMinutes: 60 }),
  draft: recipe,
  start: recipe,
  machineId: 'this',
  sample: null,
  hindsight: null,
  withGame: null,
  locks: [],
  undoDepth: 0,
  versions: [],
  createdAt: '',
};
const drive: Drive = {
  id: 'footage',
  name: 'Footage',
  folder: '/srv/footage',
  quotaBytes: null,
  writeBytesPerSecond: null,
  mark: null,
  speedTyped: false,
  tests: [],
};
const now = new Date('2026-11-25T21:10:05Z');
const made = (
  file: Partial<NonNullable<RecipeInput['file']>> = {},
  container: typeof recipe.container = 'matroska',
  clock: 'real' | 'driven' = 'driven',
) =>
  newTrial({
    id: 't',
    kind: 'trial',
    game: setup.game,
    recipe: { ...recipe, container, file: { ...recipe.file, ...file } },
    setup,
    version: { number: 8, recipe, createdAt: '' },
    number: 13,
    machine: kestrel,
    clock,
    drive,
    lengthS: 10,
    now,
    source: practiceSource,
    prediction: null,
  });

describe('a new trial', () => {
  it('gets its name and place from the recipe, safe for any file system', () => {
    expect(
      made({ subfolder: 'none', name: [{ word: 'game' }, { word: 'day' }, { word: 'kind' }, { word: 'number' }] })
        .filePath,
    ).toBe('/srv/footage/Harrow Vale 2026-11-25 trial 13.mkv');
    expect(made({ subfolder: 'setup', name: [{ word: 'number' }] }).fileName).toBe('Vale seasons/13.mkv');
    expect(made({ subfolder: 'game-day', name: [{ word: 'size' }, { word: 'recipe' }] }).fileName).toBe(
      'Harrow Vale/2026-11-25/1280x720 8.mkv',
    );
    expect(made({ subfolder: 'none', name: [{ text: '../../' }, { word: 'number' }] }).filePath).toBe(
      '/srv/footage/13.mkv',
    );
    expect(made({}, 'mp4').fileName).toMatch(/\.mp4$/);
  });
  it('says whose machine it is on, and by which clock', () => {
    expect(made()).toMatchObject({
      clock: 'driven',
      machine: { name: 'Kestrel', origin: 'simulated' },
      driveId: 'footage',
    });
    expect(made({}, 'matroska', 'real').clock).toBe('real');
  });
  it('knows every word a name may hold', () => {
    expect(nameValuesOf(setup, 'trial', recipe.size, 13, 8, now)).toMatchObject({
      game: 'Harrow: Vale?',
      day: '2026-11-25',
      kind: 'trial',
      number: '13',
      setup: 'Vale / seasons',
      recipe: '8',
      size: '1280x720',
    });
  });
});

describe('a simulated take', () => {
  it('goes through the game’s passages as a real one does', () => {
    const passages = passagesFor(
      {
        ...plainPracticeGame,
        passages: [
          { kind: 'calm', seconds: 4 },
          { kind: 'busy', seconds: 2 },
        ],
      },
      9,
    );
    expect(passages).toEqual([
      { kind: 'calm', seconds: 4 },
      { kind: 'busy', seconds: 2 },
      { kind: 'calm', seconds: 3 },
    ]);
    expect(passagesFor(plainPracticeGame, 3)).toEqual([{ kind: 'calm', seconds: 3 }]);
  });
  it('is encoded by the nearest software encoder, with the same quality', () => {
    const card = { ...recipe, encode: { ...recipe.encode, encoder: 'hevc-card' as const, quality: 22 } };
    expect(encodableRecipe(card).encode).toMatchObject({ encoder: 'hevc-software', quality: 22 });
    expect(encodableRecipe(recipe)).toBe(recipe);
  });
});
