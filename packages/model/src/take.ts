import { z } from 'zod';
import { recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { machineSchema } from './machine';
import { mediaFactsSchema } from './mediaFacts';
import { ledgerSummarySchema } from './ledgerSummary';
import { playCostSchema } from './playCost';
import { verdictSchema } from './verdict';
import { predictionSchema } from './prediction';
import { clockSchema } from './ledger';

export const takeStateSchema = z.enum([
  'preparing',
  'baseline',
  'rolling',
  'closing',
  'rescuing',
  'closed',
  'rescued',
  'failed',
]);
export type TakeState = z.infer<typeof takeStateSchema>;
export const endedStates: readonly TakeState[] = ['closed', 'rescued', 'failed'];

/** Why a take ended. */
export const takeEndSchema = z.enum([
  'length',
  'stopped',
  'server-gone',
  'engine-died',
  'engine-hung',
  'drive-full',
  'drive-gone',
  'drive-error',
  'error',
]);
export type TakeEnd = z.infer<typeof takeEndSchema>;

/** A recording: a trial is a short take made to learn. */
export const takeSchema = z.object({
  id: z.string(),
  setupId: z.string(),
  number: z.int().min(1),
  kind: z.literal('trial'),
  state: takeStateSchema,
  end: takeEndSchema.nullable(),
  /** Plain words about the end where it was not the planned one. */
  endText: z.string().nullable(),
  recipeVersion: z.int().min(1),
  recipe: recipeSchema,
  game: practiceGameSchema,
  machine: machineSchema,
  /** True for takes that came with the demo and were measured on the PC it was made on. */
  demo: z.boolean(),
  clock: clockSchema,
  lengthS: z.number(),
  createdAt: z.string(),
  driveId: z.string(),
  /** Below the drive's folder. */
  fileName: z.string(),
  /** Where the file lies now, complete; empty if there is none. */
  filePath: z.string(),
  facts: mediaFactsSchema.nullable(),
  summary: ledgerSummarySchema.nullable(),
  playCost: playCostSchema.nullable(),
  verdict: verdictSchema.nullable(),
  /** What was expected of it; null where no forecast was made. */
  prediction: predictionSchema.nullable().default(null),
  /** The plain MP4 made of it, complete path; empty if there is none. */
  rewrappedPath: z.string().default(''),
  fileOffsetUs: z.number().nullable(),
  tailFrames: z.int(),
});
export type Take = z.infer<typeof takeSchema>;
