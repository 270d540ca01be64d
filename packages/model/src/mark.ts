import { z } from 'zod';

/** A note is a line, not a page. */
export const noteSchema = z.string().trim().max(200);

/** A moment of a take that somebody wants to find again. */
export const markSchema = z.object({
  id: z.string().min(1).max(40),
  /** Since the first due frame. */
  atUs: z.number().min(0),
  note: noteSchema,
});
export type Mark = z.infer<typeof markSchema>;

/** So many are a mistake of whatever presses the key. */
export const mostMarks = 2000;

export const newMarkSchema = z.strictObject({ note: noteSchema.default('') });
export const markPatchSchema = z.strictObject({ note: noteSchema });
