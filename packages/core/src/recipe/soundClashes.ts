import { isGrabbed, type Recipe } from '@mellow/model';
import { ownSounds, standIns, withoutSound } from '../sound';
import { listWords } from '../units';
import type { Clash } from './clashes';

/** Sounds that cannot be kept as the lanes ask. */
export function soundClashes(recipe: Recipe): Clash[] {
  return [...standInsWithOwnGame(recipe), ...lanesOfNothing(recipe)];
}

function standInsWithOwnGame(recipe: Recipe): Clash[] {
  const invented = isGrabbed(recipe.source) ? standIns(recipe) : [];
  if (!invented.length) return [];
  return [
    {
      id: 'source-sound',
      weight: 'stops',
      title: `${listWords(invented.map(({ name }) => name))} would be the practice game’s`,
      text: 'These sounds are stand-ins. A take of the screen has nothing to do with them: it hears what this PC plays, and a microphone.',
      remedy: { label: 'Hear this PC and the microphone', recipe: ownSounds(recipe) },
    },
  ];
}

function lanesOfNothing(recipe: Recipe): Clash[] {
  const heard = new Set(recipe.sounds.map(({ id }) => id));
  const missing = recipe.lanes.flatMap(({ sources }) => sources).find((source) => !heard.has(source));
  if (!missing) return [];
  const lanes = recipe.lanes.filter(({ sources }) => sources.includes(missing)).map(({ name }) => name);
  return [
    {
      id: 'lane-of-nothing',
      weight: 'stops',
      title: `${listWords(lanes)} ${lanes.length === 1 ? 'keeps' : 'keep'} a sound that nothing brings`,
      text: 'It was removed from what is heard, so there is nothing to put there.',
      remedy: { label: 'Take it off', recipe: withoutSound(recipe, missing) },
    },
  ];
}
