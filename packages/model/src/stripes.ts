import { z } from 'zod';
import { fileIdentitySchema } from './takeFile';

/** How a file's blocks are spread: block n belongs to the stripe that the pattern names at n, round and round. */
export const stripeLayoutSchema = z.object({
  blockBytes: z.int().min(4096),
  pattern: z.array(z.int().min(0)).min(1).max(64),
});
export type StripeLayout = z.infer<typeof stripeLayoutSchema>;

/** One file of a striped take, and what its drive allows. */
export const stripePlaceSchema = z.object({
  path: z.string().min(1),
  identity: fileIdentitySchema,
  driveFolder: z.string().min(1),
  quotaBytes: z.number().nullable(),
  largestFileBytes: z.number().nullable(),
  reservePath: z.string().nullable(),
});
export type StripePlace = z.infer<typeof stripePlaceSchema>;

/** A take that is written to several folders at once, block by block. */
export const stripeOrderSchema = stripeLayoutSchema.extend({ places: z.array(stripePlaceSchema).min(2) });
export type StripeOrder = z.infer<typeof stripeOrderSchema>;
