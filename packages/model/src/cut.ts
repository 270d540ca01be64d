import { z } from 'zod';

/** A pause of a take: nothing of it is in the file, which goes on as if it had not been. */
export const cutSchema = z.object({
  /** Time of the file at which the picture before the pause and the one after it meet. */
  atUs: z.number().min(0),
  /** What was left out, a whole number of due frames. */
  leftOutUs: z.number().min(0),
});
export type Cut = z.infer<typeof cutSchema>;

/** More than this no take has; whatever asks so often is not a person. */
export const mostCuts = 500;
