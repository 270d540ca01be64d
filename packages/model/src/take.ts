import { z } from 'zod';
import { stripeLayoutSchema } from './stripes';
import { briefSchema } from './brief';
import { cameraReportSchema } from './camera';
import { recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { machineSchema } from './machine';
import { cutSchema } from './cut';
import { markSchema, mostMarks } from './mark';
import { mediaFactsSchema } from './mediaFacts';
import { ledgerSummarySchema } from './ledgerSummary';
import { likenessSchema, unpacedSchema } from './likeness';
import { playCostSchema } from './playCost';
import { verdictSchema } from './verdict';
import { predictionSchema } from './prediction';
import { clockSchema } from './ledger';
import { soundReportSchema } from './sound';
import { practiceSource, sourceSchema } from './source';
import { takeFileSchema, type TakeFile, type TakeFileRole } from './takeFile';

export const takeStateSchema = z.enum([
  'preparing',
  'baseline',
  'rolling',
  'closing',
  'reading-back',
  'rescuing',
  'closed',
  'rescued',
  'failed',
  /** Nothing is lost, but its drive is away or its work failed: it is looked for again at each start, or when asked. */
  'waiting',
]);
export type TakeState = z.infer<typeof takeStateSchema>;
export const endedStates: readonly TakeState[] = ['closed', 'rescued', 'failed', 'waiting'];

/** Why a take ended. */
export const takeEndSchema = z.enum([
  'length',
  'stopped',
  'server-gone',
  'engine-died',
  'engine-hung',
  'drive-full',
  'file-limit',
  'drive-gone',
  'drive-error',
  'source-gone',
  'error',
]);
export type TakeEnd = z.infer<typeof takeEndSchema>;

/** Kinds that are rolled: a trial is made to learn, trials play a sample instead of the game, a full take is what it is all for. */
export const rolledKinds = ['trial', 'sample', 'full'] as const;
export type RolledKind = (typeof rolledKinds)[number];
/** A clip is not rolled: it was kept from what had been held. */
export const takeKinds = [...rolledKinds, 'clip'] as const;
export type TakeKind = (typeof takeKinds)[number];

/** A recording. */
export const takeSchema = z.object({
  id: z.string(),
  setupId: z.string(),
  number: z.int().min(1),
  kind: z.enum(takeKinds),
  state: takeStateSchema,
  end: takeEndSchema.nullable(),
  /** Plain words about the end where it was not the planned one. */
  endText: z.string().nullable(),
  recipeVersion: z.int().min(1),
  recipe: recipeSchema,
  game: practiceGameSchema,
  source: sourceSchema.default(practiceSource),
  machine: machineSchema,
  /** True for takes that came with the demo and were measured on the PC it was made on. */
  demo: z.boolean(),
  clock: clockSchema,
  /** What was asked for; null: until it is stopped. */
  lengthS: z.number().nullable(),
  createdAt: z.string(),
  driveId: z.string(),
  /** Below the drive's folder. */
  fileName: z.string(),
  /** Where the file lies now, complete; empty if there is none. */
  filePath: z.string(),
  facts: mediaFactsSchema.nullable(),
  summary: ledgerSummarySchema.nullable(),
  playCost: playCostSchema.nullable(),
  /** What was kept of the encoder's pictures against those of the file; null where nothing was kept or compared. */
  likeness: likenessSchema.nullable().default(null),
  /** Work of the encoder measured after the take; null where its threads' own counters told. */
  unpaced: unpacedSchema.nullable().default(null),
  /** What its setup was for when it was made; null in takes from before that was kept. */
  brief: briefSchema.nullable().default(null),
  verdict: verdictSchema.nullable(),
  /** What was expected of it; null where no forecast was made. */
  prediction: predictionSchema.nullable().default(null),
  /** Every file the take has made, by identity. */
  files: z.array(takeFileSchema).default([]),
  /** What became of sounds from outside. */
  sounds: z.array(soundReportSchema).default([]),
  /** In the order of time. */
  marks: z.array(markSchema).max(mostMarks).default([]),
  /** How its blocks are spread over its files; null: each file is whole. */
  stripes: stripeLayoutSchema.nullable().default(null),
  /** Since when its own files lie in the discards, and how they were spread: a proven copy is the take; null: they are it. */
  discarded: z.object({ at: z.string(), stripes: stripeLayoutSchema.nullable() }).nullable().default(null),
  /** Pauses, in the order of time. */
  cuts: z.array(cutSchema).default([]),
  /** Pictures of the sample it plays that could not be decoded in time: it does not show what other trials show. */
  sampleLeftOut: z.int().min(0).default(0),
  /** What became of its camera. */
  camera: cameraReportSchema.nullable().default(null),
  fileOffsetUs: z.number().nullable(),
  tailFrames: z.int(),
});
export type Take = z.infer<typeof takeSchema>;

/** The take's newest file of a kind, null if it has none. */
export const fileOf = (take: Pick<Take, 'files'>, role: TakeFileRole): TakeFile | null =>
  take.files.filter((file) => file.role === role).pop() ?? null;

/**
 * The files that hold the take, in order: one, its parts, or its stripes. Of two that begin at one time the later known holds it: a file
 * that was kept elsewhere, or closed anew, takes the place of the one before.
 */
export function partsOf({ files }: Pick<Take, 'files'>): TakeFile[] {
  const stripes = files.filter(({ role, stripe }) => role === 'take' && stripe !== undefined);
  if (stripes.length) {
    const byNumber = new Map(stripes.map((file) => [file.stripe ?? 0, file]));
    return [...byNumber.values()].sort((a, b) => (a.stripe ?? 0) - (b.stripe ?? 0));
  }
  const byStart = new Map(files.filter(({ role }) => role === 'take').map((file) => [file.startUs ?? 0, file]));
  return [...byStart.values()].sort((a, b) => (a.startUs ?? 0) - (b.startUs ?? 0));
}

/** A row of takes that cannot be read. */
export const brokenTakeSchema = z.object({
  id: z.string(),
  setupId: z.string(),
  number: z.int(),
  createdAt: z.string(),
  why: z.string(),
});
export type BrokenTake = z.infer<typeof brokenTakeSchema>;
