import { z } from 'zod';
import { nameText } from './nameText';
import { recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { briefSchema } from './brief';
import { displaySchema } from './machine';
import { rolledKinds, takeSchema } from './take';
import { hindsightSchema } from './hindsight';
import { setupSchema } from './setup';

/** RFC 9457 problem document with a stable `type`; `detail` says what happened, what it means and what to do. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  fields: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
});
export type Problem = z.infer<typeof problemSchema>;

export const newSetupSchema = z.strictObject({
  name: nameText(60),
  brief: briefSchema,
  game: practiceGameSchema.optional(),
  machineId: z.string().max(40).optional(),
});
export type NewSetup = z.infer<typeof newSetupSchema>;
export const setupPatchSchema = z.strictObject({
  name: nameText(60).optional(),
  game: practiceGameSchema.optional(),
  brief: briefSchema.optional(),
  machineId: z.string().max(40).optional(),
  locks: z.array(z.string().max(60)).max(60).optional(),
  hindsight: hindsightSchema.nullable().optional(),
});
export type SetupPatch = z.infer<typeof setupPatchSchema>;
/** What trials play: a take's file, any other file of this PC, or nothing, which is the live source. */
export const chosenSampleSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('live') }),
  z.strictObject({ from: z.literal('take'), takeId: z.string().min(1).max(40) }),
  z.strictObject({ from: z.literal('file'), path: z.string().trim().min(1).max(4000) }),
]);
export type ChosenSample = z.infer<typeof chosenSampleSchema>;
export const draftBodySchema = z.strictObject({ recipe: recipeSchema });
/** A take that nobody stops ends after a day. */
export const mostTakeS = 86_400;
const mostTrialS = 600;

/** A full take that begins in some seconds. */
export const rollSoonSchema = z.strictObject({
  inS: z.number().min(1).max(600).default(10),
  lengthS: z.number().min(2).max(mostTakeS).nullable().default(null),
});

/** A trial or a sample has a length; a full take has one, or none. */
export const newTrialSchema = z
  .strictObject({
    lengthS: z.number().min(2).max(mostTakeS).nullable().default(10),
    kind: z.enum(rolledKinds).default('trial'),
  })
  .refine(({ lengthS, kind }) => kind === 'full' || (lengthS !== null && lengthS <= mostTrialS), {
    path: ['lengthS'],
    message: `A trial has 2 to ${mostTrialS} seconds; a full take may have more, or no length.`,
  });
export type NewTrial = z.infer<typeof newTrialSchema>;
export const newDriveSchema = z.strictObject({
  name: nameText(40),
  folder: z.string().min(1).max(1000),
  quotaBytes: z.number().int().min(100_000).max(1e15).nullable().default(null),
  /** Make the folder where the one above it is there. */
  make: z.boolean().default(false),
});
/** A speed somebody knows already; null: as the last test found it. */
export const drivePatchSchema = z.strictObject({ writeBytesPerSecond: z.number().min(1e5).max(1e11).nullable() });
export type NewDrive = z.infer<typeof newDriveSchema>;
export const rangeQuerySchema = z.object({
  from: z.coerce.number().int().min(0).default(0),
  to: z.coerce.number().int().min(0).optional(),
  buckets: z.coerce.number().int().min(10).max(4000).default(1200),
});
/** What a person may change of a machine; a simulated one in its speed too. */
export const machinePatchSchema = z.strictObject({
  name: nameText(80).optional(),
  displays: z.array(displaySchema).max(8).optional(),
  cores: z.int().min(1).max(256).optional(),
  memoryBytes: z.number().min(1e8).max(1e13).optional(),
  /** Speed of a core against the PC that typical values stem from. */
  coreSpeed: z.number().min(0.05).max(20).optional(),
});
export type MachinePatch = z.infer<typeof machinePatchSchema>;

export const takeListSchema = z.array(takeSchema);
/** A clip that was just kept, with the length it has: while a take rolls its file is not read back yet. */
export const keptClipSchema = takeSchema.extend({ keptUs: z.number() });
export type KeptClip = z.infer<typeof keptClipSchema>;
export const setupListSchema = z.array(setupSchema);

/** The ledger in a fixed number of time buckets, for the timeline. */
export const pyramidSchema = z.object({
  first: z.int(),
  rowsPerBucket: z.number(),
  periodUs: z.number(),
  dueFrames: z.int(),
  /** Per bucket: mean and longest time from one new picture to the next, null where there was none. */
  meanMs: z.array(z.number().nullable()),
  maxMs: z.array(z.number().nullable()),
  bytes: z.array(z.number()),
  repeats: z.array(z.int()),
  captureMisses: z.array(z.int()),
  encodeMisses: z.array(z.int()),
  writeMisses: z.array(z.int()),
});
export type Pyramid = z.infer<typeof pyramidSchema>;

export const lossRunSchema = z.object({
  atUs: z.number(),
  due: z.int(),
  frames: z.int(),
  fate: z.string(),
  cause: z.string(),
});
export type LossRun = z.infer<typeof lossRunSchema>;
export const lossListSchema = z.object({ total: z.int(), runs: z.array(lossRunSchema) });

export const logLineSchema = z.object({ at: z.string(), level: z.enum(['info', 'warn', 'error']), text: z.string() });
export type LogLine = z.infer<typeof logLineSchema>;

export const demoStateSchema = z.object({
  present: z.boolean(),
  madeOn: z.string().nullable(),
  setups: z.int(),
  takes: z.int(),
});
export type DemoState = z.infer<typeof demoStateSchema>;
