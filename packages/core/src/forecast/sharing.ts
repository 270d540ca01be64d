import type { Figure, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec';
import { periodUs } from '../units';
import { coresOf } from './context';
import type { ForecastContext } from './context';
import type { StationWork } from './loads';

/**
 * How much recording slows a game beside taking its turns on the processor: memory, caches and clock are shared (docs/model.md,
 * "Play cost"). Shares of the game's work; assumptions with ranges, as no two machines share alike.
 */
export const sharingFigures: Record<'perCore' | 'perBlock' | 'perMegapixelGrab', Figure> = {
  /** A core that the recorder keeps busy, on the game's processor work; half of it on its graphics. */
  perCore: {
    value: 0.02,
    low: 0.005,
    high: 0.04,
    origin: 'assumed',
    from: 'typical for memory and clock that are shared',
  },
  /** A block that is busy all the time. */
  perBlock: { value: 0.05, low: 0.02, high: 0.1, origin: 'assumed', from: 'typical for a block beside a game' },
  /** A megapixel handed over 60 times a second. */
  perMegapixelGrab: {
    value: 0.004,
    low: 0.002,
    high: 0.012,
    origin: 'assumed',
    from: 'typical for handing pictures over',
  },
};

/** What a recipe keeps busy: cores in the mean, and the share of the time a block works. */
export interface RecorderUse {
  cores: number;
  block: number;
  megapixelsAt60: number;
}

export function recorderUse(
  recipe: Recipe,
  context: Pick<ForecastContext, 'machine' | 'game'>,
  work: StationWork,
): RecorderUse {
  const period = periodUs(recipe.rate);
  const cores = coresOf(context);
  const software = encoderFacts[recipe.encode.encoder].place === 'software';
  const encodeCores = software ? Math.min(work.encode.value / period, work.parallelism ?? 1) : 0.05;
  const besides = (work.grabUs.value + (work.size?.value ?? 0) + work.packUs.value) / period;
  return {
    cores: Math.min(cores, encodeCores + Math.min(3, besides)),
    block: software ? 0 : Math.min(1, work.encode.value / period),
    megapixelsAt60: ((context.game.widthPx * context.game.heightPx) / 1e6) * (1e6 / period / 60),
  };
}

/**
 * Threads of an encoder that want a core at once while it works: the system shares by threads, so an encoder with many of them leaves a
 * game's main thread little. AVC and HEVC for each core they can use, AV1 in all; fitted on paired trials (`npm run fit:trials`).
 */
const threadsPerCore = { 'avc-software': 1.5, 'hevc-software': 0.5 } as const;
const av1Threads = 24;

export function runnableThreads({ encode }: Recipe, parallelism: number): number {
  if (encode.encoder === 'av1-software') return Math.max(parallelism, encode.threads || av1Threads);
  return parallelism * (threadsPerCore[encode.encoder as keyof typeof threadsPerCore] ?? 1);
}

/** A thread that has a core keeps it so long before another's turn comes; fitted on the same trials. */
const turnSliceUs = 2800;

/** Longest that a game's thread waits for a core when it wakes among an encoder's: each of them on that core has a turn before it. */
export const longestTurnUs = (threads: number, cores: number): number =>
  Math.max(0, Math.ceil(threads / cores) - 2) * turnSliceUs;

/**
 * An encoder never works all of its cores at once: its threads wait for one another. AVC and HEVC leave what they do not use to others;
 * AV1, with many threads, is in the way of a game's on every core for as much longer. Shares fitted on paired trials, by how much is
 * lost at what load.
 */
const keptBusy = { 'avc-software': 0.85, 'hevc-software': 0.75, 'av1-software': 0.7 } as const;

/** Cores that an encoder occupies at once, and how much longer than its work. */
export function occupation({ encode }: Recipe, parallelism: number): { cores: number; occupies: number } {
  const share = parallelism > 1 ? (keptBusy[encode.encoder as keyof typeof keptBusy] ?? 0.9) : 1;
  if (encode.encoder === 'av1-software') return { cores: parallelism, occupies: 1 / share };
  return { cores: Math.max(1, parallelism * share), occupies: 1 };
}

export type SharingValues = Record<keyof typeof sharingFigures, number>;

/** Factors on the game's work while recording. */
export function slowdown(use: RecorderUse, values: SharingValues): { processor: number; graphics: number } {
  const besides = values.perBlock * use.block + values.perMegapixelGrab * use.megapixelsAt60;
  return {
    processor: 1 + values.perCore * use.cores + besides * 0.5,
    graphics: 1 + values.perCore * 0.5 * use.cores + besides,
  };
}
