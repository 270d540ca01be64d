import { createContext, useContext } from 'react';
import type { HeardLevels, Recipe, Setup, SoundDevices, SoundInput, SoundSource } from '@mellow/model';

/** Levels as they are shown: the newest, and the highest of the last seconds. */
export interface ShownLevels {
  now: HeardLevels;
  /** Highest peak of each sound over the last 3 s, dBFS; null where it was silent. */
  heldPeak(id: SoundSource): number | null;
  heldLanePeak(lane: number): number | null;
  /** Levels of one sound over the last 10 s, a tenth of a second each, oldest first: mean power, dBFS. */
  history(id: SoundSource): readonly (number | null)[];
}

/** All that the parts of Sound share. */
export interface SoundState {
  setup: Setup;
  recipe: Recipe;
  devices: SoundDevices;
  levels: ShownLevels;
  /** Why no level comes, in words. */
  trouble: string | null;
  /** The lane that is looked at below. */
  lane: number;
  chooseLane(lane: number): void;
  change(recipe: Recipe): void;
  changeSound(id: SoundSource, change: Partial<SoundInput>): void;
}

export const SoundContext = createContext<SoundState | null>(null);

export function useSound(): SoundState {
  const state = useContext(SoundContext);
  if (!state) throw new Error('A part of Sound stands outside it.');
  return state;
}
