import { z } from 'zod';

/** Kinds of file that a take is copied into without encoding again; the file's ending. */
export const rewrapKinds = ['mp4', 'mkv'] as const;
export const rewrapBodySchema = z.strictObject({ into: z.enum(rewrapKinds).default('mp4') });
export type RewrapInto = (typeof rewrapKinds)[number];
