import type { Brief, Calibration, MachineSheet, PracticeGame, Recipe, DriveFacts } from '@mellow/model';
import type { PassageShares, SceneKnowledge } from '../codec';
import { stripedDrive } from '../storage';

/** Everything beside the recipe that a forecast depends on; plain data, so that it can go to a worker. */
export interface ForecastContext {
  game: PracticeGame;
  brief: Brief;
  /** Null while nothing is known of the machine. */
  machine: MachineSheet | null;
  drives: readonly DriveFacts[];
  calibration: Calibration;
  /** Settings that must not be touched. */
  locks: readonly string[];
  /** The recipe the setup began with. */
  start: Recipe;
  /** What the stretch that is foretold is made of; left out: an hour of play. */
  shares?: PassageShares;
}

const motionShare = { calm: 0.2, middling: 0.5, fast: 0.8 } as const;

/** What is known of the game's scenes: what a person said goes before what the practice game is set to. */
export function sceneOf(game: PracticeGame, shares: PassageShares = sceneShares(game)): SceneKnowledge {
  return {
    motion: game.facts.motion === null ? 0.5 : motionShare[game.facts.motion],
    detail: game.detail,
    known: game.facts.motion !== null,
    kind: game.kind === 'own' ? null : game.scene,
    shares,
    playedPixels: game.widthPx * game.heightPx,
  };
}

/** Share of each kind of passage in an hour of play, by motion; an assumption until a full take was made. */
export function sceneShares(game: PracticeGame): PassageShares {
  const { motion } = game.facts;
  if (motion === 'calm') return { calm: 0.88, busy: 0.1, loading: 0.02 };
  if (motion === 'fast') return { calm: 0.55, busy: 0.42, loading: 0.03 };
  return { calm: 0.74, busy: 0.24, loading: 0.02 };
}

/** Work of a game in a passage against the mean of an hour; calm and busy weighed by their shares give 1. */
export const sceneFactors = {
  calm: 0.92,
  busy: 1.22,
  loading: 0.7,
} as const;

/** A fixed-function block feels so much of what a passage does to an encoder in software; an assumption. */
export const blockContentShare = 0.1;

/** Cores of a machine of which nothing is known. */
export const coresOf = ({ machine }: Pick<ForecastContext, 'machine'>): number => machine?.cores ?? 4;

/** Where a recipe's takes go; several folders at once count as one drive. */
export const driveOf = (recipe: Recipe, context: Pick<ForecastContext, 'drives'>): DriveFacts | null =>
  stripedDrive(recipe, context.drives) ?? context.drives.find((drive) => drive.id === recipe.driveId) ?? null;
