import { z } from 'zod';

/** How like a take's pictures are to what its encoder was given: kept pictures held against those of the file. */
export const likenessSchema = z.object({
  /** Pictures that were compared. */
  pictures: z.int().min(1),
  /** SSIM of luma, mean over all of them. */
  ssim: z.number(),
  /** The least mean over the pictures of one second, and which second that is. */
  worstSecondSsim: z.number(),
  worstSecond: z.int().min(0),
  /** Every sample compared was the same. */
  exact: z.boolean(),
});
export type Likeness = z.infer<typeof likenessSchema>;

/** What a closed take's encoder takes without a clock, where no counter of its threads tells: time a frame, microseconds. */
export const unpacedSchema = z.object({
  frames: z.int().min(1),
  /** Of all its threads together; null where the system does not tell. */
  processorUs: z.number().nullable(),
  /** From one frame to the next. */
  clockUs: z.number(),
});
export type Unpaced = z.infer<typeof unpacedSchema>;
