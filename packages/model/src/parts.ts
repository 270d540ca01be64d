import { z } from 'zod';
import { fileIdentitySchema } from './takeFile';

/** How a take becomes several files; a file system's own limit cuts a full take too. */
export const partsSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('none') }),
  z.object({ by: z.literal('length'), minutes: z.number().min(0.1).max(600) }),
  z.object({ by: z.literal('size'), megabytes: z.int().min(100).max(1_000_000) }),
  /** Not one after the other: block by block over all folders at once, as much to each, or by their measured speeds. */
  z.object({ by: z.literal('striped'), shares: z.enum(['equal', 'by-speed']) }),
]);
export type Parts = z.infer<typeof partsSchema>;
export const onePart: Parts = { by: 'none' };

/** More folders than this nobody sets in order. */
export const mostNextDrives = 8;

/** A part of a take as it was begun. */
export const partFileSchema = z.object({
  path: z.string().min(1),
  identity: fileIdentitySchema,
  /** Time of the take at which it begins. */
  startUs: z.number().min(0),
});
export type PartFile = z.infer<typeof partFileSchema>;

/** Where the recorder begins a new file, and when. */
export const partOrderSchema = z.object({
  /** A new part at the first key picture after so many due frames; null: however long it gets. */
  everyFrames: z.int().min(1).nullable(),
  /** A part stays below so many bytes; null: however large it gets. */
  mostBytes: z.number().positive().nullable(),
  /** Folders that take over, one after the other, where the one before has no room left. */
  next: z
    .array(
      z.object({
        /** Where the part's file goes; it is made. */
        folder: z.string().min(1),
        driveFolder: z.string().min(1),
        quotaBytes: z.number().nullable(),
        largestFileBytes: z.number().nullable(),
        reservePath: z.string().nullable(),
      }),
    )
    .max(mostNextDrives),
});
export type PartOrder = z.infer<typeof partOrderSchema>;
