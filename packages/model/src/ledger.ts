import { z } from 'zod';
import { frameRateSchema } from './frameRate';
import { machineSchema } from './machine';
import { recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { fates, causes } from './fate';
import { practiceSource, sourceSchema } from './source';
import { fileIdentitySchema } from './takeFile';

/** Rows of a ledger as plain columns, the form that travels between server, page and core. */
export const ledgerRowsSchema = z.object({
  first: z.int().min(0),
  dueUs: z.array(z.number()),
  source: z.array(z.int().nullable()),
  picked: z.array(z.int().nullable()),
  captured: z.array(z.int().nullable()),
  sized: z.array(z.int().nullable()),
  encodeIn: z.array(z.int().nullable()),
  encodeOut: z.array(z.int().nullable()),
  written: z.array(z.int().nullable()),
  sourceFrame: z.array(z.int().nullable()),
  bytes: z.array(z.int().nullable()),
  key: z.array(z.boolean()),
  fate: z.array(
    z
      .int()
      .min(0)
      .max(fates.length - 1),
  ),
  cause: z.array(
    z
      .int()
      .min(0)
      .max(causes.length - 1),
  ),
  filled: z.array(z.boolean()),
});
export type LedgerRows = z.infer<typeof ledgerRowsSchema>;

/** Load of one station within a second. Null: not known on this platform or clock. */
export const stationLoadSchema = z.object({
  /** Mean milliseconds a frame (at the drive: milliseconds of the second spent writing). */
  meanMs: z.number().nullable(),
  /** The busiest 1 % of frames in the second, milliseconds. */
  busiestMs: z.number().nullable(),
  /** Frames the mean stands for; not there at the drive and in ledgers of before. */
  frames: z.int().nullable().optional(),
});
export type StationLoad = z.infer<typeof stationLoadSchema>;

/** What the machine did in one second of a take. */
export const secondRowSchema = z.object({
  second: z.int().min(0),
  /** Frames that had been due by then. */
  due: z.int().min(0),
  load: z.object({
    game: stationLoadSchema,
    capture: stationLoadSchema,
    size: stationLoadSchema,
    encode: stationLoadSchema,
    pack: stationLoadSchema,
    drive: stationLoadSchema,
  }),
  /** Processor seconds used in this second: the game's thread, our threads, everything else on the machine. */
  processor: z
    .object({ game: z.number(), recorder: z.number(), others: z.number(), pressureShare: z.number().nullable() })
    .nullable(),
  /** Seconds that the encoder's threads were ready to run and waited for a processor. */
  encodeWaitingS: z.number().nullable(),
  bytesWritten: z.number(),
  bytesQueued: z.number(),
  driveLatencyMs: z.number(),
  /** Peak of each lane, dBFS; null in silence. */
  lanePeakDbfs: z.array(z.number().nullable()),
  game: z.object({ frames: z.int(), meanMs: z.number().nullable(), slowestMs: z.number().nullable() }),
});
export type SecondRow = z.infer<typeof secondRowSchema>;

export const ledgerOriginSchema = z.enum(['measured', 'simulated', 'imported']);
export const clockSchema = z.enum(['real', 'driven']);
export type Clock = z.infer<typeof clockSchema>;

export const ledgerHeaderSchema = z.object({
  takeId: z.string(),
  recipe: recipeSchema,
  game: practiceGameSchema,
  source: sourceSchema.default(practiceSource),
  machine: machineSchema,
  origin: ledgerOriginSchema,
  clock: clockSchema,
  rate: frameRateSchema,
  startedAt: z.string(),
  file: z.string(),
  /** Identity of the file, reserved before the recorder was asked; null in takes stored earlier. */
  identity: fileIdentitySchema.nullable().default(null),
  enginePid: z.int(),
  /** Address at which the recorder answers as long as it lives; empty in takes stored earlier. */
  engineSocket: z.string().default(''),
});
export type LedgerHeader = z.infer<typeof ledgerHeaderSchema>;
