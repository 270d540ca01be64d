import {
  mostLanes,
  soundSources,
  type Lane,
  type Recipe,
  type SoundInput,
  type SoundRole,
  type SoundSource,
} from '@mellow/model';
import { roleWords, soundName } from './soundWords';

/** Changes of lanes and sounds as a person makes them; each gives a new recipe. */

/** A sound is kept on a lane too. */
export const keepOn = (recipe: Recipe, source: SoundSource, lane: number): Recipe =>
  withLane(recipe, lane, (sources) => (sources.includes(source) ? sources : [...sources, source]));

/** A sound is taken off a lane; a lane that keeps nothing else goes with it. */
export function takeOff(recipe: Recipe, source: SoundSource, lane: number): Recipe {
  const without = withLane(recipe, lane, (sources) => sources.filter((one) => one !== source));
  return { ...without, lanes: without.lanes.filter(({ sources }) => sources.length > 0) };
}

/** A sound goes from one lane to another; past the last it gets one of its own. */
export function moveTo(recipe: Recipe, source: SoundSource, from: number, to: number): Recipe {
  if (from === to) return recipe;
  const there = to >= recipe.lanes.length ? newLaneFor(recipe, source) : keepOn(recipe, source, to);
  return there === recipe ? recipe : takeOff(there, source, from);
}

/** A sound gets a lane of its own, in the codec that the others have. */
export function newLaneFor(recipe: Recipe, source: SoundSource): Recipe {
  if (recipe.lanes.length >= mostLanes) return recipe;
  const like = recipe.lanes.at(-1);
  const lane: Lane = {
    name: freeName(soundName(recipe.sounds, source), recipe.lanes),
    sources: [source],
    codec: like?.codec ?? 'flac',
    bitrateKbps: like?.bitrateKbps ?? 160,
  };
  return { ...recipe, lanes: [...recipe.lanes, lane] };
}

/** "Game", "Game 2": a name no lane has yet. */
function freeName(name: string, lanes: readonly Lane[]): string {
  const taken = (wanted: string): boolean => lanes.some((lane) => lane.name.toLowerCase() === wanted.toLowerCase());
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? name : `${name.slice(0, 36)} ${n}`;
    if (!taken(wanted)) return wanted;
  }
}

/** A lane changes its place among the others. */
export function moveLane(recipe: Recipe, from: number, to: number): Recipe {
  const lanes = [...recipe.lanes];
  const [lane] = lanes.splice(from, 1);
  if (!lane || to < 0 || to > lanes.length) return recipe;
  lanes.splice(to, 0, lane);
  return { ...recipe, lanes };
}

/** A further sound to be heard; it is kept nowhere yet. Null where there is no room for one of its role. */
export function addSoundOf(recipe: Recipe, role: SoundRole, from: SoundInput['from'], name?: string): Recipe | null {
  const id = soundSources.find(
    (source) =>
      (source === role || source.startsWith(`${role}-`)) && recipe.sounds.every((sound) => sound.id !== source),
  );
  if (!id) return null;
  const sound: SoundInput = {
    id,
    name: (name ?? roleWords[role]).trim().slice(0, 40) || roleWords[role],
    from,
    gainDb: 0,
    muted: false,
    opening: 'open',
  };
  return { ...recipe, sounds: [...recipe.sounds, sound] };
}

export const changeSound = (recipe: Recipe, id: SoundSource, change: Partial<SoundInput>): Recipe => ({
  ...recipe,
  sounds: recipe.sounds.map((sound) => (sound.id === id ? { ...sound, ...change } : sound)),
});

function withLane(recipe: Recipe, at: number, change: (sources: Lane['sources']) => Lane['sources']): Recipe {
  return {
    ...recipe,
    lanes: recipe.lanes.map((lane, i) => (i === at ? { ...lane, sources: change(lane.sources) } : lane)),
  };
}

/** What a lane is for, by what is on it. */
export function lanePurpose(lane: Lane, at: number): string {
  if (lane.sources.length > 1) return at === 0 ? 'balanced for a player' : 'several together';
  return at === 0 ? 'all that a player plays' : 'alone, for the editor';
}
