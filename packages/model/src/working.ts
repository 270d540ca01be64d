import { z } from 'zod';

/** Where what is only made in between lies: copies for playing, and held minutes that wait on a drive. */
export const workingPlaceSchema = z.object({
  /** A folder on the list; null: copies with the application's data, held minutes with the takes. */
  driveId: z.string().nullable(),
  /** Copies that were made to be played here; each can be made anew. */
  copies: z.int(),
  copiesBytes: z.number(),
  /** Why nothing can be put there now. */
  problem: z.string().nullable(),
});
export type WorkingPlace = z.infer<typeof workingPlaceSchema>;

export const workingBodySchema = z.strictObject({ driveId: z.string().min(1).max(40).nullable() });
