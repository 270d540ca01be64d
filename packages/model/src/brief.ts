import { z } from 'zod';

export const purposes = ['long-play', 'short-film', 'slow-motion', 'lesson', 'master', 'light'] as const;
export const purposeSchema = z.enum(purposes);
export type Purpose = z.infer<typeof purposeSchema>;

/** What the footage is for. */
export const briefSchema = z.object({
  purpose: purposeSchema,
  sessionMinutes: z.int().min(1).max(1440),
});
export type Brief = z.infer<typeof briefSchema>;
