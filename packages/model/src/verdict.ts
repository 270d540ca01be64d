import { z } from 'zod';
import { judgedSchema } from './limits';
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

/** Unclear: no limit is certainly broken, and not all that were measured are certainly held. */
export const verdictMarks = ['keep', 'unclear', 'look', 'rescued', 'failed'] as const;
export const verdictMarkSchema = z.enum(verdictMarks);
export type VerdictMark = z.infer<typeof verdictMarkSchema>;

export const verdictSchema = z.object({
  mark: verdictMarkSchema,
  sentence: z.string(),
  facts: z.array(factSchema),
  findings: z.array(findingSchema),
  /** Every limit that was asked, worst first; empty in verdicts that were drawn before there were any. */
  limits: z.array(judgedSchema).default([]),
});
export type Verdict = z.infer<typeof verdictSchema>;
