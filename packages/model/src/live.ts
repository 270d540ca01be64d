import { z } from 'zod';
import { cutSchema } from './cut';
import { heldSchema, watchingSchema } from './hindsight';
import { soundLevelSchema } from './sound';
import { secondRowSchema } from './ledger';
import { takeStateSchema } from './take';
import { stationNames } from './station';
import { causes, countsBy, fates } from './fate';

/** Something beside the take that does not go on for now, or an encoder that lets nothing out; the take goes on. */
export const takeTroubleSchema = z.object({
  who: z.enum(['encoder', 'hindsight', 'sound', 'camera']),
  text: z.string(),
});
export type TakeTrouble = z.infer<typeof takeTroubleSchema>;

/** What the recorder is doing now; sent about five times a second while rolling. */
export const liveTakeSchema = z.object({
  takeId: z.string(),
  setupId: z.string(),
  number: z.int(),
  state: takeStateSchema,
  /** Null: until it is stopped. */
  lengthS: z.number().nullable(),
  elapsedUs: z.number(),
  baselineLeftS: z.number(),
  due: z.int(),
  fates: countsBy(fates),
  causes: countsBy(causes),
  /** Per second since the start, newest last, at most 60: new, repeat, capture, encode, write. */
  lastMinute: z.array(z.tuple([z.int(), z.int(), z.int(), z.int(), z.int()])),
  bytesWritten: z.number(),
  durableBytes: z.number(),
  bytesPerSecond: z.number(),
  bytesQueued: z.number(),
  /** Up to where in the take every picture is with the drive. */
  writtenUs: z.number().default(0),
  /** Frames that were due and of which it is not known yet what became. */
  unsettled: z.int().min(0).default(0),
  troubles: z.array(takeTroubleSchema).default([]),
  gameFps: z.number().nullable(),
  gameSlowestMs: z.number().nullable(),
  loads: z.record(z.enum(stationNames), z.object({ meanMs: z.number().nullable(), busiestMs: z.number().nullable() })),
  lanePeakDbfs: z.array(z.number().nullable()),
  /** Short-term loudness of each lane. */
  laneLufs: z.array(z.number().nullable()).default([]),
  /** Each sound that is heard, in the recipe's order. */
  sounds: z.array(soundLevelSchema).default([]),
  /** Whether the camera brings pictures; null where there is none. */
  camera: z.enum(['alive', 'away']).nullable().default(null),
  recorderCores: z.number().nullable(),
  /** Cores in use in the last second; null where the system does not tell. */
  processor: secondRowSchema.shape.processor.default(null),
  /** Bytes that the file can still grow by before it is closed by itself; null where nobody knows. */
  roomBytes: z.number().nullable().default(null),
  /** The last minutes that are held beside; null where none are. */
  held: heldSchema.nullable().default(null),
  /** How long it is paused now; null: it is not. */
  pausedS: z.number().nullable().default(null),
  /** Files begun so far. */
  parts: z.int().min(1).default(1),
  /** Pauses that are over. */
  cuts: z.array(cutSchema).default([]),
});
export type LiveTake = z.infer<typeof liveTakeSchema>;

/** Work that runs beside: a copy, a test, a measurement, reading back. */
export const runningJobSchema = z.object({
  id: z.string(),
  title: z.string(),
  takeId: z.string().nullable(),
  done: z.number(),
  /** Null while it is not known how much there is to do. */
  of: z.number().nullable(),
});
export type RunningJob = z.infer<typeof runningJobSchema>;

export const liveStateSchema = z.object({
  serial: z.int(),
  recorder: z.enum(['idle', 'armed', 'rolling', 'closing']),
  take: liveTakeSchema.nullable(),
  jobs: z.array(runningJobSchema),
  /** Hindsight beside takes; null: it is off. */
  watching: watchingSchema.nullable().default(null),
  /** A full take begins in so many seconds; null: none does. */
  rollsSoon: z.object({ setupId: z.string(), leftS: z.int() }).nullable().default(null),
  /** The state window is hidden for now, by key. */
  windowHidden: z.boolean().default(false),
  /** Counts up whenever stored data changed, so that pages fetch again. */
  dataVersion: z.int(),
  notice: z
    .object({
      id: z.int(),
      tone: z.enum(['note', 'loss']),
      title: z.string(),
      text: z.string(),
      takeId: z.string().nullable(),
    })
    .nullable(),
});
export type LiveState = z.infer<typeof liveStateSchema>;

/** Nothing happens, and nothing has been told. */
export const idleState: LiveState = {
  serial: 0,
  recorder: 'idle',
  take: null,
  jobs: [],
  watching: null,
  rollsSoon: null,
  windowHidden: false,
  dataVersion: 0,
  notice: null,
};
