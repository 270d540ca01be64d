import { z } from 'zod';
import { screenPlaceSchema } from './source';

/** A display as the system tells of it. */
export const displayFactsSchema = z.object({
  ...screenPlaceSchema.shape,
  name: z.string(),
  /** Pictures a second it shows; null where the system does not tell. */
  rateHz: z.number().nullable(),
  primary: z.boolean(),
});
export type DisplayFacts = z.infer<typeof displayFactsSchema>;

/** A window that could be recorded. */
export const windowFactsSchema = z.object({
  ...screenPlaceSchema.shape,
  windowId: z.int(),
  title: z.string(),
});
export type WindowFacts = z.infer<typeof windowFactsSchema>;

/** What this PC shows now. */
export const screensSchema = z.object({
  /** Why nothing can be grabbed here, in words; null where it can. */
  trouble: z.string().nullable(),
  displays: z.array(displayFactsSchema),
  windows: z.array(windowFactsSchema),
});
export type Screens = z.infer<typeof screensSchema>;
