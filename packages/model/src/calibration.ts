import { z } from 'zod';
import { recipeSchema } from './recipe';
import { stationNames } from './station';

/** Size of one trial's picture, against which the rate model is fitted. */
export const rateProbeSchema = z.object({
  trial: z.int(),
  encode: recipeSchema.shape.encode,
  widthPx: z.int(),
  heightPx: z.int(),
  fps: z.number(),
  seconds: z.number(),
  bitsPerPixel: z.number().positive(),
  /** Share of each kind of passage in it; null where it is not known. */
  shares: z.object({ calm: z.number(), busy: z.number(), loading: z.number() }).nullable().default(null),
  /** SSIM of its picture as measured, and whether the encoder that made it was the recipe's own; null where it was not measured. */
  likeness: z.object({ ssim: z.number(), standIn: z.boolean() }).nullable().default(null),
});
export type RateProbe = z.infer<typeof rateProbeSchema>;

const loadSchema = z.object({ usualMs: z.number(), busiestMs: z.number() });

/** What the trials of a setup have taught, as plain figures; the forecast stands on it. */
export const calibrationSchema = z.object({
  rates: z.array(rateProbeSchema),
  /** Loads of undisturbed trials, newest first. */
  loads: z.array(
    z.object({
      trial: z.int(),
      recipe: recipeSchema,
      /** Size the game had in that trial. */
      gameSize: z.object({ widthPx: z.int(), heightPx: z.int() }),
      cores: z.int(),
      stations: z.record(z.enum(stationNames), loadSchema.nullable()),
      /** Processor time of the game a frame, microseconds. */
      gameProcessorUs: z.number().nullable(),
      /** Frames a second without recording. */
      gameFpsWithout: z.number().nullable(),
      othersCores: z.number(),
    }),
  ),
  /** The PC the trials were made on, where it is another one than this. */
  madeOn: z.string().nullable().default(null),
  /** Found / predicted of earlier trials: bits a second, and busiest of Encode. */
  errors: z.array(z.object({ trial: z.int(), bitsRatio: z.number().nullable(), encodeRatio: z.number().nullable() })),
});
export type Calibration = z.infer<typeof calibrationSchema>;
export const noCalibration: Calibration = { rates: [], loads: [], madeOn: null, errors: [] };
