import type { Figure, PracticeSceneName, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec';
import type { ForecastContext } from './context';

/** What a frame of the game asks of processor and graphics engine, mean over play, in microseconds. */
export interface GameWork {
  /** Of its main thread. */
  processorUs: Figure;
  /** Of its helper threads together, and the cores they can use. */
  helpers: { meanUs: number; parallelism: number };
  graphicsUs: number;
  framesAhead: number;
  cv: number;
  phi: number;
}

/** The practice games draw on the processor: microseconds a megapixel at their own detail (`npm run bench`; docs/model.md, "Work"). */
const practiceWork: Record<PracticeSceneName, { usPerMegapixel: number; detail: number }> = {
  'paper-comets': { usPerMegapixel: 970, detail: 0.4 },
  'harrow-vale': { usPerMegapixel: 440, detail: 0.4 },
  'tin-cathedral': { usPerMegapixel: 3200, detail: 0.8 },
};
/**
 * A game that a card draws, by parts of the time of a frame: its main thread, and helpers together with the cores they use;
 * an assumption, as games differ (docs/model.md, "Play cost").
 */
const mainShare = 0.65;
const helperShare = 1;
const helperCores = 3;
const unknownFps = { value: 100, low: 60, high: 160 };

/**
 * Work of the game, in order of trust: from a trial's own processor time; from the rate it reaches without a cap;
 * for the practice game typical figures; otherwise assumed with a wide range ("I do not know").
 */
export function gameWorkOf(context: ForecastContext): GameWork {
  const { game, machine, calibration } = context;
  const spread = { cv: game.facts.motion === 'fast' ? 0.22 : 0.15, phi: 0.7 };
  // A trial's processor time is of all the game's threads: with helpers it does not tell the main one's.
  const trial = game.helpers ? undefined : calibration.loads.find((load) => load.gameProcessorUs !== null);
  // Processor time tells all of a game that draws on the processor, as the practice game does; one bound by a card is told by its rate.
  if (trial?.gameProcessorUs && !machine?.graphics) {
    const scale = (game.widthPx * game.heightPx) / (trial.gameSize.widthPx * trial.gameSize.heightPx);
    const us = trial.gameProcessorUs * scale;
    return {
      processorUs: {
        value: us,
        low: us * (scale === 1 ? 0.9 : 0.7),
        high: us * (scale === 1 ? 1.1 : 1.4),
        origin: scale === 1 ? 'measured' : 'fitted',
        from: `${scale === 1 ? 'measured in' : 'scaled by pixels from'} trial ${trial.trial}`,
      },
      helpers: helpersOf(game, machine),
      graphicsUs: 0,
      framesAhead: 0,
      ...spread,
    };
  }
  if (machine?.graphics || game.kind === 'own') {
    const fps = game.facts.freeFps;
    const known = fps !== null;
    const of = (rate: number): number => (1e6 / rate) * mainShare;
    const figure: Figure = known
      ? {
          value: of(fps),
          low: of(fps * 1.1),
          high: of(fps * 0.9),
          origin: 'fitted',
          from: `from ${fps} fps without a cap`,
        }
      : {
          value: of(unknownFps.value),
          low: of(unknownFps.high),
          high: of(unknownFps.low),
          origin: 'assumed',
          from: 'its rate is not known; a trial without a cap settles it',
        };
    // Bound by the card: a frame takes the graphics engine as long as the rate says, the main thread a share of that.
    const frameUs = figure.value / mainShare;
    return {
      processorUs: figure,
      helpers: { meanUs: frameUs * helperShare, parallelism: helperCores },
      graphicsUs: frameUs,
      framesAhead: 1,
      ...spread,
    };
  }
  const megapixels = (game.widthPx * game.heightPx) / 1e6;
  const { usPerMegapixel, detail } = practiceWork[game.scene];
  const base = megapixels * usPerMegapixel * (1 + 0.5 * (game.detail - detail)) + game.extraLoadUs;
  const us = game.facts.freeFps !== null ? 1e6 / game.facts.freeFps : base / (machine?.coreSpeed.value ?? 1);
  const wide = game.facts.freeFps !== null ? 1.15 : 1.6;
  return {
    processorUs: {
      value: us,
      low: us / wide,
      high: us * wide,
      origin: game.facts.freeFps !== null ? 'fitted' : 'typical',
      from:
        game.facts.freeFps !== null
          ? `from ${game.facts.freeFps} fps without a cap`
          : 'typical for the practice game; a trial measures it',
    },
    helpers: helpersOf(game, machine),
    graphicsUs: 0,
    framesAhead: 0,
    ...spread,
  };
}

/** The practice game's own helpers: as many as it is set to have. */
function helpersOf(game: ForecastContext['game'], machine: ForecastContext['machine']): GameWork['helpers'] {
  return {
    meanUs: (game.helpers * game.helperLoadUs) / (machine?.coreSpeed.value ?? 1),
    parallelism: Math.max(1, game.helpers),
  };
}

/** Cores the encoder can keep busy at once: all it may use, but never more than the machine has. */
export function encodeParallelism(recipe: Recipe, cores: number): number {
  if (!encoderFacts[recipe.encode.encoder].threads) return 1;
  const { threads, encoder } = recipe.encode;
  const most = encoder === 'ffv1-software' || encoder === 'utvideo-software' ? 4 : 16;
  return Math.max(1, Math.min(threads || most, cores, most));
}
