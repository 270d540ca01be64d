import { z } from 'zod';

/** Kinds of file that a take is copied into without encoding again, by their ending; `as-is`: a striped take's own. */
export const rewrapKinds = ['mp4', 'mkv', 'as-is'] as const;
export const rewrapBodySchema = z.strictObject({ into: z.enum(rewrapKinds).default('mp4') });
export type RewrapInto = (typeof rewrapKinds)[number];
