import { z } from 'zod';

/** A full take that begins and ends with a program. */
export const withGameSchema = z.strictObject({
  /** Name of the program, as the system lists it, with or without its ending. */
  process: z.string().trim().min(1).max(120),
  on: z.boolean(),
});
export type WithGame = z.infer<typeof withGameSchema>;

export const mostLeftAlone = 100;
/** Programs that are never recorded by themselves, by name: no window of theirs is offered, and none of them begins a take. */
export const leftAloneSchema = z
  .array(z.string().trim().min(1).max(120))
  .max(mostLeftAlone)
  .transform((names) => [...new Set(names)]);
