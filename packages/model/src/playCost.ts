import { z } from 'zod';

/** The game's frame times over one run of a passage. */
export const gameRunSchema = z.object({
  seconds: z.number(),
  frames: z.int(),
  meanFps: z.number(),
  /** Null under 1 000 frames: too few for a percentile. */
  onePercentLowFps: z.number().nullable(),
  /** The slowest frame times, milliseconds, slowest first. */
  slowestMs: z.array(z.number()),
});
export type GameRun = z.infer<typeof gameRunSchema>;

/** One pair: the same passage without and with recording. */
export const playCostSchema = z.object({ without: gameRunSchema, with: gameRunSchema });
export type PlayCost = z.infer<typeof playCostSchema>;
