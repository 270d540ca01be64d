import { z } from 'zod';

/** The PC a take was made on. */
export const machineSchema = z.object({
  name: z.string().min(1).max(80),
  cores: z.int().min(1),
  processor: z.string(),
  memoryBytes: z.number().min(0),
  system: z.string(),
});
export type Machine = z.infer<typeof machineSchema>;
