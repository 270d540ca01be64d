import { z } from 'zod';
import { recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { briefSchema } from './brief';
import { hindsightSchema } from './hindsight';
import { withGameSchema } from './withGame';
import { sampleSourceSchema } from './source';

export const recipeVersionSchema = z.object({
  number: z.int().min(1),
  recipe: recipeSchema,
  createdAt: z.string(),
});
export type RecipeVersion = z.infer<typeof recipeVersionSchema>;

/** A game, a brief and a machine with the recipe versions and their trials. */
export const setupSchema = z.object({
  id: z.string(),
  name: z.string().trim().min(1).max(60),
  demo: z.boolean(),
  game: practiceGameSchema,
  brief: briefSchema,
  draft: recipeSchema,
  /** The recipe this setup began with: the notch on each rail. */
  start: recipeSchema,
  /** The machine it is tuned for: 'this', or a simulated one. */
  machineId: z.string().default('this'),
  /** What trials play in place of the source; null: they record the source as it is then. */
  sample: sampleSourceSchema.nullable().default(null),
  /** How much is held at hand while it rolls, and beside takes where it is switched on; null: nothing. */
  hindsight: hindsightSchema.nullable().default(null),
  /** The program that a full take begins and ends with; null: none. */
  withGame: withGameSchema.nullable().default(null),
  /** Settings that advice must not touch, as setting keys. */
  locks: z.array(z.string()).default([]),
  /** Earlier drafts that Undo returns to. */
  undoDepth: z.int(),
  versions: z.array(recipeVersionSchema),
  createdAt: z.string(),
});
export type Setup = z.infer<typeof setupSchema>;

/** A setup whose row cannot be read, with the reason. */
export const brokenSetupSchema = z.object({ id: z.string(), name: z.string(), createdAt: z.string(), why: z.string() });
export type BrokenSetup = z.infer<typeof brokenSetupSchema>;
