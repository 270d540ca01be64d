import { z } from 'zod';
import { fileIdentitySchema } from './takeFile';

export const shortestHindsightS = 20;
export const longestHindsightS = 1800;

/** Where the last minutes wait: in memory they are gone with the recorder, on the drive they outlive it. */
export const hindsightWheres = ['memory', 'drive'] as const;
export type HindsightWhere = (typeof hindsightWheres)[number];

/** How much of what was just played stays at hand. */
export const hindsightSchema = z.strictObject({
  lengthS: z.int().min(shortestHindsightS).max(longestHindsightS).default(180),
  where: z.enum(hindsightWheres).default('memory'),
});
export type Hindsight = z.infer<typeof hindsightSchema>;

/** What the recorder is told of it. */
export const hindsightOrderSchema = hindsightSchema.extend({
  /** Where pieces lie that wait on the drive; made and emptied by the recorder, and by nobody else. */
  folder: z.string(),
  /** Address at which the recorder that holds it answers; the recorder fills it in. */
  owner: z.string().optional(),
  /** In memory the oldest goes before the length is reached where this would be passed. */
  limitBytes: z.number().min(1e6),
});
export type HindsightOrder = z.infer<typeof hindsightOrderSchema>;

/** A wish to keep what was just played. */
export const keepOrderSchema = z.object({
  id: z.string(),
  lastS: z.number().positive(),
  path: z.string(),
  identity: fileIdentitySchema,
});
export type KeepOrder = z.infer<typeof keepOrderSchema>;

/** What was kept; a reason in words where nothing could be. */
export const keptSchema = z.discriminatedUnion('ok', [
  z.object({
    ok: z.literal(true),
    id: z.string(),
    /** Since the first due frame of what it was cut from. */
    startUs: z.number(),
    lengthUs: z.number(),
    pictures: z.int(),
    bytes: z.number(),
  }),
  z.object({ ok: z.literal(false), id: z.string(), why: z.string() }),
]);
export type Kept = z.infer<typeof keptSchema>;

/** How much waits now. */
export const heldSchema = z.object({
  lengthS: z.number(),
  heldS: z.number(),
  bytes: z.number(),
  where: z.enum(hindsightWheres),
  /** How often packets did not come in time and a piece is missing. */
  gaps: z.int(),
});
export type Held = z.infer<typeof heldSchema>;

/** Hindsight while no take rolls. */
export const watchingSchema = z.object({
  setupId: z.string(),
  /** `resting`: a take or a measurement has the machine; `failed`: see why. */
  state: z.enum(['beginning', 'on', 'resting', 'failed']),
  why: z.string().nullable(),
  held: heldSchema.nullable(),
});
export type Watching = z.infer<typeof watchingSchema>;

export const keepBodySchema = z.strictObject({
  /** Seconds; null: all that is held, up to the setup's length. */
  lastS: z.number().min(1).max(longestHindsightS).nullable().default(null),
});
export const watchBodySchema = z.strictObject({ setupId: z.string().min(1).max(40) });
