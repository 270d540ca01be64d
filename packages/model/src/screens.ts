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
  /** Name of its program, as the system lists it; null where that is not told. */
  program: z.string().nullable().default(null),
});
export type WindowFacts = z.infer<typeof windowFactsSchema>;

/** A small picture of what would be recorded now. */
export const screenLookSchema = z.object({
  widthPx: z.int(),
  heightPx: z.int(),
  /** The brightest luma in it, 0 to 255 of full range. */
  brightest: z.number(),
  /** The same for the same picture. */
  mark: z.string(),
  /** The picture as a data address. */
  image: z.string(),
});
export type ScreenLook = z.infer<typeof screenLookSchema>;

/** What this PC shows now. */
export const screensSchema = z.object({
  /** Why nothing can be grabbed here, in words; null where it can. */
  trouble: z.string().nullable(),
  displays: z.array(displayFactsSchema),
  windows: z.array(windowFactsSchema),
});
export type Screens = z.infer<typeof screensSchema>;
