import { z } from 'zod';
import { cutReasons } from './cutReason';

/** A stretch that was left out of a take: the file goes on as if it had not been. */
export const cutSchema = z.object({
  why: z.enum(cutReasons).default('paused'),
  /** Time of the file at which the picture before it and the one after it meet. */
  atUs: z.number().min(0),
  /** What was left out, a whole number of due frames. */
  leftOutUs: z.number().min(0),
});
export type Cut = z.infer<typeof cutSchema>;
