import { z } from 'zod';
import { ownLimitsSchema } from './limits';

export const purposes = ['long-play', 'short-film', 'slow-motion', 'lesson', 'master', 'light'] as const;
export const purposeSchema = z.enum(purposes);
export type Purpose = z.infer<typeof purposeSchema>;

/** Where the footage is shown. */
export const destinations = ['video-site', 'broadcaster', 'archive', 'undecided'] as const;
export const destinationSchema = z.enum(destinations);
export type Destination = z.infer<typeof destinationSchema>;

/** What the editor opens: anything, plain MP4 only, or an older one that wants a key picture every half second. */
export const editors = ['anything', 'mp4', 'old'] as const;
/** How the sound lies in the file. */
export const soundLayouts = ['mix', 'voice-apart', 'every-source'] as const;
/** A camera beside the game: none, recorded by something else, over the game, or beside it in one wide picture. */
export const cameras = ['none', 'elsewhere', 'over', 'beside'] as const;
/** What matters, most first. */
export const concerns = ['game', 'safety', 'picture', 'small-files'] as const;
export type Concern = (typeof concerns)[number];

/** What the footage is for. */
export const briefSchema = z.object({
  purpose: purposeSchema,
  sessionMinutes: z.int().min(1).max(1440),
  destination: destinationSchema.default('video-site'),
  /** Largest number of lines and frames a second that are shown there. */
  shownLines: z.int().min(240).max(4320).default(1080),
  shownFps: z.int().min(15).max(480).default(60),
  mainsHz: z.union([z.literal(50), z.literal(60)]).default(60),
  editor: z.enum(editors).default('anything'),
  soundLayout: z.enum(soundLayouts).default('voice-apart'),
  matters: z
    .array(z.enum(concerns))
    .length(concerns.length)
    .refine((order) => new Set(order).size === concerns.length, { message: 'Each concern stands in the order once.' })
    .default(['game', 'safety', 'picture', 'small-files']),
  /** Share of the speed at which slow motion is shown, per cent. */
  slowPercent: z.int().min(5).max(100).default(50),
  camera: z.enum(cameras).default('none'),
  /** Limits that the person has set, in place of those that follow from the answers. */
  limits: ownLimitsSchema.default({}),
  /** Speed of the line that takes are sent over; null: not said. */
  uploadMbps: z.number().min(0.1).max(100_000).nullable().default(null),
});
export type Brief = z.infer<typeof briefSchema>;
export type BriefInput = z.input<typeof briefSchema>;
