import { z } from 'zod';
import {
  briefSchema,
  calibrationSchema,
  driveFactsSchema,
  fates,
  gameRunSchema,
  judgedSchema,
  machineSheetSchema,
  practiceGameSchema,
  recipeSchema,
  stationNames,
} from '@mellow/model';

const contextSchema = z.object({
  game: practiceGameSchema,
  brief: briefSchema,
  machine: machineSheetSchema.nullable(),
  drives: z.array(driveFactsSchema),
  calibration: calibrationSchema,
  locks: z.array(z.string()),
  start: recipeSchema,
});

/** What the forecast worker is asked: a recipe, and beside it one that is only considered. */
export const outlookOrderSchema = z.object({
  serial: z.int(),
  recipe: recipeSchema,
  considered: recipeSchema.nullable(),
  context: contextSchema,
  /** The setup's own seed: every recipe of it meets the same draws. */
  seed: z.int(),
  /** Draws for the misses; few while something is dragged. */
  seeds: z.int().min(1).max(40),
  /** What the last trial of this very recipe found of its limits; empty where there was none that counts. */
  measured: z.array(judgedSchema),
  /** Whether the recipe is judged, and what mends it is searched: at rest. */
  judge: z.boolean(),
});
export type OutlookOrder = z.infer<typeof outlookOrderSchema>;

const rangeSchema = z.object({ value: z.number(), low: z.number(), high: z.number() });
const predictedSchema = z.object({
  missesPerMinute: rangeSchema,
  playCost: rangeSchema,
  byStation: z.partialRecord(z.enum(stationNames), z.number()),
  delayMs: z.number(),
  queuePeakBytes: z.number(),
  seeds: z.int(),
});
const stripSchema = z.object({
  periodMs: z.number(),
  dueFrames: z.int(),
  passages: z.array(z.object({ kind: z.enum(['calm', 'busy', 'loading']), seconds: z.number() })),
  encodeMs: z.array(z.number()),
  marks: z.array(z.object({ due: z.int(), frames: z.int(), fate: z.enum(fates), waitMs: z.number() })),
  counts: z.object({ repeat: z.int(), 'capture-miss': z.int(), 'encode-miss': z.int(), 'write-miss': z.int() }),
});
const arrowSchema = z.object({
  name: z.enum(['picture', 'size', 'play cost', 'misses']),
  direction: z.union([z.literal(-1), z.literal(0), z.literal(1)]),
  good: z.boolean().nullable(),
  text: z.string(),
});

/** Every limit judged by what is foretold, and what to do first (`judgeAndMend`). */
const judgementSchema = z.object({
  judged: z.array(judgedSchema.extend({ beyond: z.boolean(), level: z.number(), rank: z.number(), over: z.number() })),
  first: z
    .object({
      id: z.string(),
      stops: z.boolean(),
      title: z.string(),
      text: z.string(),
      label: z.string().nullable(),
      recipe: recipeSchema.nullable(),
    })
    .nullable(),
});

/** What it answers: the next ten seconds, the misses, what the game keeps, and the four arrows of what was considered. */
export const outlookReplySchema = z.object({
  serial: z.int(),
  strip: stripSchema,
  predicted: predictedSchema,
  play: z.object({ without: gameRunSchema, with: gameRunSchema }),
  arrows: z.array(arrowSchema).nullable(),
  /** Null where only a quick look was asked for, and nothing thorough is known of this recipe. */
  judgement: judgementSchema.nullable(),
});
export type OutlookReply = z.infer<typeof outlookReplySchema>;
