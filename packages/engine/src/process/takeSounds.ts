import { dbOf, isHeard } from '@mellow/core';
import type { SoundLevel, SoundReport, SoundSource, TakeOrder } from '@mellow/model';
import { openSoundFigures, soundStateNumbers } from '../shared/soundFigures';
import type { TakeMemory } from '../shared/takeMemory';
import type { ThreadName } from '../shared/threadNames';

/** The sounds of a take while it rolls. */
export interface TakeSounds {
  /** Levels since the last call. */
  levels(): SoundLevel[];
  laneLufs(): (number | null)[];
  /** What became of those that came from outside. */
  reports(): SoundReport[];
  hold(sound: SoundSource, open: boolean): void;
}

/** Threads that bring the sounds that are kept. */
export function soundThreads(order: TakeOrder, memory: TakeMemory): ThreadName[] {
  const kinds = order.recipe.sounds.filter(({ id }) => memory.sounds[id]).map(({ from }) => from.kind);
  return [
    ...(kinds.includes('practice') ? ['sound' as const] : []),
    ...(kinds.some((kind) => kind !== 'practice') ? ['hear' as const] : []),
  ];
}

export function openTakeSounds(order: TakeOrder, memory: TakeMemory): TakeSounds {
  const { sounds, lanes } = order.recipe;
  const figures = openSoundFigures(memory.soundFigures);
  const loudness = new Float64Array(memory.laneLoudness);
  const known = (value: number): number | null => (Number.isFinite(value) ? value : null);
  const stateOf = (at: number, outside: boolean): SoundLevel['state'] =>
    outside ? (soundStateNumbers[figures.get(at, 'state')] ?? 'away') : 'alive';
  return {
    levels: () =>
      sounds.map(({ id, from, muted, opening }, at) => {
        const peak = figures.get(at, 'peak');
        figures.set(at, 'peak', 0);
        const kept = memory.sounds[id] !== undefined;
        const why = !isHeard({ muted, opening }) ? (muted ? 'muted' : 'closed') : kept ? null : 'kept nowhere';
        const state = kept ? stateOf(at, from.kind !== 'practice') : 'silent';
        return { id, state, peakDbfs: dbOf(peak), rmsDbfs: null, loudnessLufs: null, why };
      }),
    laneLufs: () => lanes.map((_, i) => known(loudness[i] || NaN)),
    reports: () =>
      sounds.flatMap(({ id, name, from }, at): SoundReport[] => {
        const outside = from.kind !== 'practice';
        const floorSamples = figures.get(at, 'floorSamples');
        if (!memory.sounds[id] || (!outside && !floorSamples)) return [];
        return [
          {
            id,
            name,
            rateHz: outside ? figures.get(at, 'rateHz') : 48_000,
            channels: outside ? figures.get(at, 'channels') : 2,
            driftPpm: outside ? known(figures.get(at, 'driftPpm')) : 0,
            away: figures.get(at, 'away'),
            silenceS: figures.get(at, 'silenceSamples') / 48_000,
            floorDbfs: floorSamples ? dbOf(Math.sqrt(figures.get(at, 'floorSquares') / floorSamples)) : null,
          },
        ];
      }),
    hold(sound, open) {
      const at = sounds.findIndex(({ id }) => id === sound);
      if (at >= 0) figures.set(at, 'held', open ? 1 : 0);
    },
  };
}
