import { z } from 'zod';

/** Lies in the data folder while the application runs: where it answers, and what programs that are no page have to show. */
export const accessSchema = z.object({ url: z.url(), token: z.string().min(32) });
export type Access = z.infer<typeof accessSchema>;
export const accessFileName = 'access.json';
