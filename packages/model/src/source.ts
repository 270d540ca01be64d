import { z } from 'zod';

/**
 * Where pictures and sound of a take come from. One kind for each way of getting them: the practice game draws its own;
 * a display, a window, a region, a sample or a file brought in are further members of this union.
 */
export const practiceSourceSchema = z.object({ kind: z.literal('practice') });
export const sourceSchema = z.discriminatedUnion('kind', [practiceSourceSchema]);
export type Source = z.infer<typeof sourceSchema>;

export const practiceSource: Source = { kind: 'practice' };
