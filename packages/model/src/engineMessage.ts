import { z } from 'zod';
import { effortSchema, encoderSchema, recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { machineSchema } from './machine';
import { clockSchema } from './ledger';
import { scriptEventSchema } from './script';
import { mediaFactsSchema } from './mediaFacts';
import { ledgerSummarySchema } from './ledgerSummary';
import { gameRunSchema } from './playCost';
import { liveTakeSchema } from './live';
import { takeEndSchema } from './take';

/** Everything the engine needs to make one take. */
export const takeOrderSchema = z.object({
  takeId: z.string(),
  recipe: recipeSchema,
  game: practiceGameSchema,
  machine: machineSchema,
  clock: clockSchema,
  /** Due frames to record. */
  dueFrames: z.int().min(1),
  /** Seconds of the game without recording, before; 0 leaves it out. */
  baselineS: z.number().min(0).max(60),
  /** The media file, complete path. */
  filePath: z.string(),
  /** The take's own folder for ledger, header and log. */
  ledgerFolder: z.string(),
  driveFolder: z.string(),
  quotaBytes: z.number().nullable(),
  /** Bytes that may wait for the drive before frames are refused. */
  waitingLimitBytes: z.number(),
  /** Free room at which the take is closed while it still can be. */
  reserveBytes: z.number(),
  encoderThreads: z.int().min(0).max(64),
  script: z.array(scriptEventSchema),
  /** For a simulated take: what becomes of each due, and which of the game's slots it shows; driven clock only. */
  plan: z
    .object({ fate: z.array(z.int()), cause: z.array(z.int()), slot: z.array(z.int().nullable()) })
    .nullable()
    .default(null),
  /** Turn a few pre-drawn pictures round instead of drawing (benchmarks); 0 draws. */
  predrawnFrames: z.int().min(0).max(120),
});
export type TakeOrder = z.infer<typeof takeOrderSchema>;
export type TakeOrderInput = z.input<typeof takeOrderSchema>;

export const takeResultSchema = z.object({
  takeId: z.string(),
  end: takeEndSchema,
  endText: z.string().nullable(),
  filePath: z.string(),
  /** The container was closed; otherwise the file has to be rescued. */
  closedWell: z.boolean(),
  facts: mediaFactsSchema.nullable(),
  summary: ledgerSummarySchema,
  tailFrames: z.int(),
  fileOffsetUs: z.number().nullable(),
  baseline: gameRunSchema.nullable(),
  recorded: gameRunSchema.nullable(),
  /** Real time from due 0 to the last packet, for throughput. */
  wallUs: z.number(),
  memoryBytes: z.array(z.number()),
  latenessUs: z.object({ median: z.number(), p95: z.number(), worst: z.number() }).nullable(),
});
export type TakeResult = z.infer<typeof takeResultSchema>;

export const engineCommandSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('roll'), order: takeOrderSchema }),
  z.object({ type: z.literal('stop') }),
  z.object({ type: z.literal('quit') }),
  z.object({
    type: z.literal('job'),
    id: z.string(),
    job: z.discriminatedUnion('kind', [
      z.object({
        kind: z.literal('rescue'),
        ledgerFolder: z.string(),
        filePath: z.string(),
        fallbackFolder: z.string(),
        /** Frames known to have been due when the recorder died, as far as anybody heard. */
        dueHeard: z.int().min(0),
      }),
      z.object({ kind: z.literal('hear'), filePath: z.string(), lane: z.int().min(0), outPath: z.string() }),
      z.object({ kind: z.literal('facts'), filePath: z.string() }),
      z.object({ kind: z.literal('still'), filePath: z.string(), outPath: z.string(), atUs: z.number() }),
      z.object({ kind: z.literal('write-speed'), folder: z.string(), seconds: z.number() }),
      /** Copies all tracks into a plain MP4 and reads both back. */
      z.object({ kind: z.literal('rewrap'), filePath: z.string(), outPath: z.string() }),
      /** Proves an encoder by a short test encode of the practice game. */
      z.object({
        kind: z.literal('prove-encoder'),
        encoder: encoderSchema,
        efforts: z.array(effortSchema).min(1),
        frames: z.int().min(2).max(600),
      }),
    ]),
  }),
]);
export type EngineCommand = z.infer<typeof engineCommandSchema>;
export type MediaJob = Extract<EngineCommand, { type: 'job' }>['job'];

export const engineEventSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('ready'), pid: z.int() }),
  z.object({ type: z.literal('live'), live: liveTakeSchema.omit({ setupId: true, number: true }) }),
  z.object({ type: z.literal('beat') }),
  z.object({ type: z.literal('log'), level: z.enum(['info', 'warn', 'error']), text: z.string() }),
  z.object({ type: z.literal('done'), result: takeResultSchema }),
  z.object({ type: z.literal('refused'), takeId: z.string(), text: z.string() }),
  z.object({ type: z.literal('job-done'), id: z.string(), result: z.unknown() }),
  z.object({ type: z.literal('job-failed'), id: z.string(), text: z.string() }),
]);
export type EngineEvent = z.infer<typeof engineEventSchema>;

/** What a rescue found and kept. */
export const rescueResultSchema = z.object({
  filePath: z.string(),
  facts: mediaFactsSchema.nullable(),
  summary: ledgerSummarySchema,
  tailFrames: z.int(),
  lostUs: z.number(),
  fileOffsetUs: z.number().nullable(),
  text: z.string(),
});
export type RescueResult = z.infer<typeof rescueResultSchema>;

/** What a test encode found: processor time and time on the clock a frame, by effort. */
export const encoderProofSchema = z.object({
  works: z.boolean(),
  reason: z.string().nullable(),
  native: z.string().nullable(),
  widthPx: z.int(),
  heightPx: z.int(),
  byEffort: z.partialRecord(effortSchema, z.object({ processorUs: z.number(), clockUs: z.number() })),
});
export type EncoderProof = z.infer<typeof encoderProofSchema>;

export const rewrapResultSchema = z.object({
  filePath: z.string(),
  bytes: z.number(),
  pictures: z.int(),
  lanes: z.int(),
});
export type RewrapResult = z.infer<typeof rewrapResultSchema>;
