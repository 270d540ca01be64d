import type { Figure, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec';
import { periodUs } from '../units';
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
  const cores = context.machine?.cores ?? 4;
  const software = encoderFacts[recipe.encode.encoder].place === 'software';
  const encodeCores = software ? Math.min(work.encode.value / period, work.parallelism ?? 1) : 0.05;
  const besides = (work.grabUs.value + (work.size?.value ?? 0) + work.packUs.value) / period;
  return {
    cores: Math.min(cores, encodeCores + Math.min(3, besides)),
    block: software ? 0 : Math.min(1, work.encode.value / period),
    megapixelsAt60: ((context.game.widthPx * context.game.heightPx) / 1e6) * (1e6 / period / 60),
  };
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
