import { z } from 'zod';
import { stationSchema } from './station';

export const findingSchema = z.object({
  id: z.string(),
  tone: z.enum(['loss', 'look', 'note']),
  station: stationSchema.nullable(),
  title: z.string(),
  /** What happened and what it means, with figures. */
  text: z.string(),
  /** What to change. */
  change: z.string().nullable(),
  /** Where on the timeline to look. */
  atUs: z.number().nullable(),
});
export type Finding = z.infer<typeof findingSchema>;

export const factSchema = z.object({
  name: z.string(),
  asked: z.string(),
  found: z.string(),
  holds: z.boolean().nullable(),
});
export type Fact = z.infer<typeof factSchema>;

export const verdictSchema = z.object({
  mark: z.enum(['keep', 'look', 'rescued', 'failed']),
  sentence: z.string(),
  facts: z.array(factSchema),
  findings: z.array(findingSchema),
});
export type Verdict = z.infer<typeof verdictSchema>;
