import { z } from 'zod';

/** A full take that begins and ends with a program. */
export const withGameSchema = z.strictObject({
  /** Name of the program, as the system lists it, with or without its ending. */
  process: z.string().trim().min(1).max(120),
  on: z.boolean(),
});
export type WithGame = z.infer<typeof withGameSchema>;
