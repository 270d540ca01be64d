import { z } from 'zod';
import { frameRateSchema } from './frameRate';

/**
 * Where pictures and sound of a take come from. One kind for each way of getting them: the practice game draws its own;
 * a display, a part of it or one window are grabbed from the screen; a sample is a file that is played, once more each time.
 */
export const practiceSourceSchema = z.object({ kind: z.literal('practice') });

/** A rectangle of the screen, in its own pixels. */
export const screenPlaceSchema = z.object({
  leftPx: z.int().min(-32768).max(32767),
  topPx: z.int().min(-32768).max(32767),
  widthPx: z.int().min(64).max(7680),
  heightPx: z.int().min(64).max(4320),
});
export type ScreenPlace = z.infer<typeof screenPlaceSchema>;

const grabbed = {
  ...screenPlaceSchema.shape,
  /** Whether the mouse pointer is in the picture. */
  pointer: z.boolean().default(true),
};

/** A whole display: everything that is on it. */
export const displaySourceSchema = z.object({
  kind: z.literal('display'),
  name: z.string().min(1).max(100),
  ...grabbed,
});

/** A part of the screen. */
export const regionSourceSchema = z.object({ kind: z.literal('region'), ...grabbed });

/** What is done when the window that is recorded is closed: the take ends, or waits for one with the same title. */
export const windowClosings = ['end', 'wait'] as const;

/** One window, wherever it lies and whatever covers it. */
export const windowSourceSchema = z.object({
  kind: z.literal('window'),
  windowId: z.int().min(1).max(0xffffffff),
  title: z.string().max(200),
  whenClosed: z.enum(windowClosings).default('end'),
  ...grabbed,
});
export type WindowSource = z.infer<typeof windowSourceSchema>;

/**
 * A media file of this PC that is played in a game's place, from its beginning and round again, so that trials differ in
 * nothing but their recipe.
 */
export const sampleSourceSchema = z.object({
  kind: z.literal('sample'),
  path: z.string().min(1).max(4000),
  name: z.string().min(1).max(120),
  widthPx: z.int().min(64).max(7680),
  heightPx: z.int().min(64).max(4320),
  /** How its pictures are handed on: 4:2:0 of Rec. 709, or blue, green and red. */
  pixels: z.enum(['yuv420p', 'bgr0']),
  rate: frameRateSchema,
  frames: z.int().min(1),
  lengthUs: z.number().min(1),
});
export type SampleSource = z.infer<typeof sampleSourceSchema>;

export const sourceSchema = z.discriminatedUnion('kind', [
  practiceSourceSchema,
  displaySourceSchema,
  regionSourceSchema,
  windowSourceSchema,
  sampleSourceSchema,
]);
export type Source = z.infer<typeof sourceSchema>;
/** Sources that are grabbed from the screen. */
export const grabbedSourceSchema = z.discriminatedUnion('kind', [
  displaySourceSchema,
  regionSourceSchema,
  windowSourceSchema,
]);
export type GrabbedSource = Exclude<Source, { kind: 'practice' } | SampleSource>;

export const practiceSource: Source = { kind: 'practice' };
