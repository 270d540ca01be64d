import { z } from 'zod';

/** How a drive was found to write. */
export const driveTestSchema = z.object({
  bytesPerSecond: z.number().positive(),
  /** direct: past the system's cache, each block on the device before the next; flushed: each block flushed after it. */
  way: z.enum(['direct', 'flushed']),
  /** False: it still changed when the time was over. */
  steady: z.boolean(),
  /** The longest that one block of 4 MB took. */
  longestPauseMs: z.number(),
  seconds: z.number(),
  /** Bytes a second, half second by half second of writing. */
  trace: z.array(z.number()).max(400),
});
export type DriveTest = z.infer<typeof driveTestSchema>;
export const storedDriveTestSchema = driveTestSchema.extend({ at: z.string() });
export type StoredDriveTest = z.infer<typeof storedDriveTestSchema>;
/** Earlier tests that are kept beside the last. */
export const mostDriveTests = 8;

/** A folder that takes may be written to. */
export const driveSchema = z.object({
  id: z.string(),
  name: z.string().trim().min(1).max(40),
  folder: z.string().min(1),
  /** A stand-in drive ends after this many bytes of takes, so that a full drive can be tried. Null: a real one. */
  quotaBytes: z.number().int().positive().nullable(),
  /** Sequential write speed, bytes a second, as the last test found it or as somebody typed it; null: not known. */
  writeBytesPerSecond: z.number().positive().nullable(),
  /** Name of an empty file left in the folder, by which the drive itself is known again; null where none was left. */
  mark: z.string().nullable().default(null),
  /** The speed was typed, and not measured. */
  speedTyped: z.boolean().default(false),
  /** Tests, newest last. */
  tests: z.array(storedDriveTestSchema).max(mostDriveTests).default([]),
});
export type Drive = z.infer<typeof driveSchema>;

/** What became of takes that were asked to lie in another folder. */
export const moveBodySchema = z.strictObject({ to: z.string().min(1).max(40) });
export const movedTakesSchema = z.object({
  moved: z.int(),
  /** Files that stayed where they are, each with the reason. */
  left: z.array(z.object({ path: z.string(), why: z.string() })),
});
export type MovedTakes = z.infer<typeof movedTakesSchema>;

/** A drive as it is now. */
export const driveStateSchema = driveSchema.extend({
  freeBytes: z.number().nullable(),
  totalBytes: z.number().nullable(),
  takesBytes: z.number(),
  kind: z.enum(['hard disk', 'solid state', 'network', 'unknown', 'stand-in']),
  /** The physical drive, where the system tells; folders with the same one share head and queue. */
  deviceId: z.string().nullable().default(null),
  /** Most that one file may have on its file system; null: no limit that a take meets, or not told. */
  largestFileBytes: z.number().nullable().default(null),
  /** Plain words why the folder cannot be used now; null when it can. */
  problem: z.string().nullable(),
});
export type DriveState = z.infer<typeof driveStateSchema>;

/** A folder or drive as a forecast sees it, real or of a simulated machine. */
export const driveFactsSchema = driveStateSchema
  .pick({
    id: true,
    name: true,
    kind: true,
    freeBytes: true,
    totalBytes: true,
    takesBytes: true,
    writeBytesPerSecond: true,
    deviceId: true,
    largestFileBytes: true,
    problem: true,
    speedTyped: true,
    tests: true,
  })
  .extend({ simulated: z.boolean(), folder: z.string().nullable() });
export type DriveFacts = z.infer<typeof driveFactsSchema>;
