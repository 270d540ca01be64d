import { z } from 'zod';

/** What is asked of a recipe, a take, or what is about to roll; each is judged by itself (docs/model.md, "Limits"). */
export const limitNames = [
  'opens',
  'lost',
  'hole',
  'play-cost',
  'slowest',
  'repeats',
  'still',
  'judder',
  'length',
  'as-asked',
  'heard',
  'clipped',
  'camera',
  'picture',
  'worst-second',
  'small-text',
  'head-room',
  'drive-rate',
  'room',
  'size',
  'if-it-dies',
  'colours',
] as const;
export const limitNameSchema = z.enum(limitNames);
export type LimitName = z.infer<typeof limitNameSchema>;

/** Limits that a person has set otherwise; null: it is not asked. */
export const ownLimitsSchema = z.partialRecord(limitNameSchema, z.number().nullable());
export type OwnLimits = z.infer<typeof ownLimitsSchema>;

export const limitStates = ['broken', 'unclear', 'held'] as const;

/** One limit, judged. */
export const judgedSchema = z.object({
  limit: limitNameSchema,
  /** "Play cost". */
  name: z.string(),
  /** Unclear: its range crosses the limit, or nothing was measured. */
  state: z.enum(limitStates),
  /** So far beyond that it spoils what is recorded, or the game. */
  grave: z.boolean(),
  /** False where there is no figure. */
  known: z.boolean(),
  /** The figure in the limit's unit with its range; null where there is none, or it has no end. */
  value: z.number().nullable(),
  low: z.number().nullable(),
  high: z.number().nullable(),
  /** The limit in words: "at most 5.0 %". */
  asked: z.string(),
  /** The figure in words with its range: "38 % (28 to 44)"; why there is none. */
  found: z.string(),
  /** The sentence that says it where it is broken or unclear. */
  sentence: z.string(),
  /** The brief's answer that the limit follows from; null: from the game, the recipe, or the person's own word. */
  answer: z.int().nullable(),
});
export type Judged = z.infer<typeof judgedSchema>;
