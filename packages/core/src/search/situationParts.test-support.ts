import {
  noCalibration,
  type Calibration,
  type DriveFacts,
  type EncoderName,
  type MachineSheet,
  type Recipe,
} from '@mellow/model';
import { withEncoder } from '../codec';
import type { ForecastContext } from '../forecast';
import { testContext, type ContextChange } from '../forecast/testContext.test-support';
import { kestrel, wren } from '../machine';
import { sizeByLines } from '../picture';
import { standInFacts } from '../storage';

/** A state of things that people come with, and what the best engineer in the room would say first. */
export interface Situation {
  name: string;
  context: ForecastContext;
  recipe: Recipe;
  /** What it is about: a limit or a rule; null where nothing has to be said. */
  about: string | null;
  /** The line. */
  says: RegExp;
}

export const workstation: MachineSheet = {
  ...kestrel,
  id: 'osprey',
  name: 'Osprey',
  cores: 8,
  encoders: kestrel.encoders.map((e) => (e.encoder === 'av1-card' ? { ...e, works: true, reason: null } : e)),
};
export const slowWithBlock: MachineSheet = {
  ...kestrel,
  id: 'slow',
  cores: 4,
  coreSpeed: { ...kestrel.coreSpeed, value: 0.28 },
};
export const laptop: MachineSheet = {
  ...wren,
  id: 'laptop',
  encoders: wren.encoders.map((e) =>
    e.encoder === 'avc-processor-graphics'
      ? {
          ...e,
          works: true,
          reason: null,
          workUsPerMegapixel: { value: 2300, low: 2000, high: 2700, origin: 'assumed', from: 'x' },
        }
      : e,
  ),
};

export const drive = (id: string, part: Partial<DriveFacts>): DriveFacts => ({
  ...standInFacts({
    id,
    name: id,
    kind: 'solid state',
    writeBytesPerSecond: 400e6,
    freeBytes: 300e9,
    totalBytes: 500e9,
  }),
  id,
  name: id,
  ...part,
});
export const encode = (recipe: Recipe, part: Partial<Recipe['encode']>): Recipe => ({
  ...recipe,
  encode: { ...recipe.encode, ...part },
});
export const on = (recipe: Recipe, encoder: EncoderName, part: Partial<Recipe['encode']> = {}): Recipe =>
  encode(withEncoder(recipe, encoder), part);
export const lines = (recipe: Recipe, game: { widthPx: number; heightPx: number }, n: number): Recipe => ({
  ...recipe,
  size: { ...recipe.size, ...sizeByLines(game, n) },
});
export const rate = (recipe: Recipe, num: number): Recipe => ({
  ...recipe,
  rate: { num, den: 1 },
  encode: { ...recipe.encode, keyDistanceFrames: num * 2 },
});

/** @param about limit or rule @param says the first line */
export function made(
  name: string,
  change: ContextChange,
  recipeOf: (recipe: Recipe, context: ForecastContext) => Recipe,
  about: string | null,
  says: RegExp = /./,
): Situation {
  const context = testContext(change);
  return { name, context, recipe: recipeOf(context.start, context), about, says };
}

export const disturbed: Calibration = {
  ...noCalibration,
  loads: [
    {
      trial: 3,
      recipe: testContext().start,
      gameSize: { widthPx: 1920, heightPx: 1080 },
      cores: 8,
      stations: { game: null, capture: null, size: null, encode: null, pack: null, drive: null },
      gameProcessorUs: null,
      gameFpsWithout: null,
      othersCores: 2.4,
    },
  ],
};
export const master = { purpose: 'master' } as const;
