import { z } from 'zod';
import { briefSchema } from './brief';
import { gameFieldsSchema } from './game';
import { machineSchema } from './machine';
import { recipeSchema } from './recipe';

/** The name and version of our card format: plain JSON, described by this schema. */
export const recipeCardFormat = 'mellow-frame-recipe-card';
export const recipeCardVersion = 1;

/** A recipe as it is shared: the settings with their reasons, what it was made for, and what was expected of it. */
export const recipeCardSchema = z.object({
  format: z.literal(recipeCardFormat),
  version: z.literal(recipeCardVersion),
  name: z.string().min(1).max(60),
  madeAt: z.string(),
  recipe: recipeSchema,
  brief: briefSchema,
  game: gameFieldsSchema.pick({
    title: true,
    widthPx: true,
    heightPx: true,
    capFps: true,
    motion: true,
    detail: true,
  }),
  /** Null where the machine of the setup was not known any more. */
  machine: machineSchema.nullable(),
  reasons: z
    .array(z.object({ setting: z.string().max(80), value: z.string().max(200), why: z.string().max(400) }))
    .max(60),
  forecast: z
    .array(z.object({ name: z.string().max(80), value: z.string().max(200), origin: z.string().max(200) }))
    .max(20),
});
export type RecipeCard = z.infer<typeof recipeCardSchema>;

/** Which settings of a card could not be taken over as they were, and what was done about it. */
export const cardReportSchema = z.array(z.object({ setting: z.string(), text: z.string() }));
export type CardReport = z.infer<typeof cardReportSchema>;
