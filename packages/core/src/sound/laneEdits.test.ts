import * as fc from 'fast-check';
import { mostLanes, mostSounds, recipeSchema, roleOf, soundRoles, soundSources, type Recipe } from '@mellow/model';
import { recipeClashes } from '../recipe';
import { anyRecipe, baseRecipe } from '../recipe/anyRecipe.test-support';
import {
  addSoundOf,
  changeSound,
  keepOn,
  lanePurpose,
  moveLane,
  moveTo,
  newLaneFor,
  takeOff,
  withoutSound,
} from './index';

const names = (recipe: Recipe) => recipe.lanes.map(({ name }) => name);
const sources = (recipe: Recipe) => recipe.lanes.map((lane) => lane.sources);

describe('a token on the staves', () => {
  it('begins with the brief: a mix, the voice, the game', () =>
    expect(sources(baseRecipe)).toEqual([['game', 'voice', 'chat'], ['voice'], ['game']]));
  it('is kept on a further lane, once', () => {
    const once = keepOn(baseRecipe, 'chat', 1);
    expect(sources(once)[1]).toEqual(['voice', 'chat']);
    expect(keepOn(once, 'chat', 1).lanes).toEqual(once.lanes);
  });
  it('moves from one lane to another, and past the last to one of its own', () => {
    expect(sources(moveTo(baseRecipe, 'chat', 0, 1))).toEqual([['game', 'voice'], ['voice', 'chat'], ['game']]);
    expect(sources(moveTo(baseRecipe, 'chat', 0, 3))).toEqual([['game', 'voice'], ['voice'], ['game'], ['chat']]);
    expect(moveTo(baseRecipe, 'chat', 0, 0)).toBe(baseRecipe);
  });
  it('takes its lane along when it was alone there', () => {
    expect(sources(takeOff(baseRecipe, 'voice', 1))).toEqual([['game', 'voice', 'chat'], ['game']]);
    expect(sources(moveTo(baseRecipe, 'voice', 1, 2))).toEqual([
      ['game', 'voice', 'chat'],
      ['game', 'voice'],
    ]);
  });
  it('gets a lane of its own with a free name and the codec of the others', () => {
    const twice = newLaneFor(newLaneFor(baseRecipe, 'game'), 'game');
    expect(names(twice).slice(-2)).toEqual(['Game 2', 'Game 3']);
    expect(twice.lanes.at(-1)).toMatchObject({ codec: baseRecipe.lanes[2]!.codec });
  });
  it('finds no room where readers give up', () => {
    let recipe = baseRecipe;
    for (let i = 0; i < 40; i++) recipe = newLaneFor(recipe, 'game');
    expect(recipe.lanes).toHaveLength(mostLanes);
    expect(moveTo(recipe, 'game', 2, mostLanes)).toBe(recipe);
    expect(new Set(names(recipe)).size).toBe(mostLanes);
  });
});

describe('lanes', () => {
  it('change places', () => {
    expect(names(moveLane(baseRecipe, 2, 0))).toEqual(['Game', 'Everything', 'Voice']);
    expect(names(moveLane(baseRecipe, 0, 1))).toEqual(['Voice', 'Everything', 'Game']);
    for (const [from, to] of [
      [0, 3],
      [0, -1],
      [7, 0],
    ] as const)
      expect(moveLane(baseRecipe, from, to)).toBe(baseRecipe);
  });
  it('say what they are for', () => {
    const [mix, voice] = baseRecipe.lanes;
    expect([lanePurpose(mix!, 0), lanePurpose(mix!, 1), lanePurpose(voice!, 1), lanePurpose(voice!, 0)]).toEqual([
      'balanced for a player',
      'several together',
      'alone, for the editor',
      'all that a player plays',
    ]);
  });
});

describe('what is heard', () => {
  const page = { kind: 'page', what: 'microphone' } as const;
  it('takes a further sound under the next free number of its role', () => {
    const second = addSoundOf(baseRecipe, 'voice', page)!;
    expect(second.sounds.at(-1)).toMatchObject({ id: 'voice-2', name: 'Microphone', gainDb: 0, muted: false });
    expect(addSoundOf(second, 'voice', page, '  Guest  ')?.sounds.at(-1)).toMatchObject({
      id: 'voice-3',
      name: 'Guest',
    });
  });
  it('has room for four of a role', () => {
    let recipe: Recipe | null = { ...baseRecipe, sounds: [] };
    for (let i = 0; i < 4; i++) recipe = addSoundOf(recipe!, 'music', page);
    expect(recipe?.sounds).toHaveLength(4);
    expect(addSoundOf(recipe!, 'music', page)).toBeNull();
  });
  it('goes with its lanes', () => {
    const without = withoutSound(baseRecipe, 'voice');
    expect(without.sounds.map(({ id }) => id)).toEqual(['game', 'chat']);
    expect(sources(without)).toEqual([['game', 'chat'], ['game']]);
  });
  it('changes one sound and no other', () => {
    const quieter = changeSound(baseRecipe, 'chat', { gainDb: -6 });
    expect(quieter.sounds.map(({ gainDb }) => gainDb)).toEqual([0, 0, -6]);
  });
});

it('every name of a sound tells its role', () => {
  expect(soundSources).toHaveLength(soundRoles.length * 4);
  for (const source of soundSources) expect(source.startsWith(roleOf(source))).toBe(true);
});

it('whatever a person does in whatever order, the recipe stays one that can be stored, and no lane keeps a sound that is not heard', () => {
  const act = fc.record({
    kind: fc.constantFrom('keep', 'take', 'move', 'new', 'lane', 'add', 'remove'),
    source: fc.constantFrom(...soundSources),
    role: fc.constantFrom(...soundRoles),
    from: fc.integer({ min: 0, max: 6 }),
    to: fc.integer({ min: 0, max: 6 }),
  });
  const done = (
    recipe: Recipe,
    { kind, source, role, from, to }: typeof act extends fc.Arbitrary<infer T> ? T : never,
  ) => {
    const heard = recipe.sounds.some(({ id }) => id === source);
    const there = recipe.lanes[from]?.sources.includes(source) ?? false;
    if (kind === 'keep') return heard ? keepOn(recipe, source, to) : recipe;
    if (kind === 'take') return takeOff(recipe, source, from);
    if (kind === 'move') return there ? moveTo(recipe, source, from, to) : recipe;
    if (kind === 'new') return heard ? newLaneFor(recipe, source) : recipe;
    if (kind === 'lane') return moveLane(recipe, from, to);
    if (kind === 'remove') return withoutSound(recipe, source);
    const added = addSoundOf(recipe, role, { kind: 'page', what: 'microphone' });
    return added && added.sounds.length <= mostSounds ? added : recipe;
  };
  fc.assert(
    fc.property(anyRecipe, fc.array(act, { maxLength: 30, size: 'max' }), (start, acts) => {
      const recipe = acts.reduce<Recipe>(done, start);
      expect(recipeSchema.parse(recipe)).toEqual(recipe);
      expect(recipeClashes(recipe).map(({ id }) => id)).not.toContain('lane-of-nothing');
    }),
    { numRuns: 60 },
  );
});
