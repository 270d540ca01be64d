import { z } from 'zod';
import { stationNames } from './station';

const rangeSchema = z.object({ value: z.number(), low: z.number(), high: z.number() });

/** What the forecast said of a recipe before a take of it was made; kept with the take, so that both can be compared. */
export const predictionSchema = z.object({
  madeAt: z.string(),
  bitsPerSecond: rangeSchema.nullable(),
  /** Busiest 1 % of each station, milliseconds. */
  busiestMs: z.record(z.enum(stationNames), z.number().nullable()),
  /** Encode's usual load over the take's passages, milliseconds a frame. */
  encodeMs: rangeSchema.nullable().default(null),
  missesPerMinute: rangeSchema,
  /** SSIM of the picture; null for lossless, and where it was not foretold. */
  ssim: rangeSchema.nullable().default(null),
  /** Share of its frames that the game loses. */
  playCost: rangeSchema.nullable().default(null),
  gameFps: z.object({ without: z.number(), with: z.number() }).nullable(),
});
export type Prediction = z.infer<typeof predictionSchema>;
