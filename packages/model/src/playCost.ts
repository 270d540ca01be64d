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
  /** Frames and their time in stretches of a quarter of a second, from which an interval is drawn; empty where none is. */
  blocks: z.array(z.object({ frames: z.int(), ms: z.number() })).default([]),
  /** How many of the blocks each turn has; empty where there was one. */
  turnBlocks: z.array(z.int().min(1)).default([]),
});
export type GameRun = z.infer<typeof gameRunSchema>;

/** The same passage of the game without and with recording, in turns. */
export const playCostSchema = z.object({
  without: gameRunSchema,
  with: gameRunSchema,
  /** How often the two were played in turns. */
  pairs: z.int().min(0).default(1),
  /** Shares that the true cost lies between in 90 of 100 trials; null where it cannot be said. */
  interval: z.object({ low: z.number(), high: z.number() }).nullable().default(null),
});
export type PlayCost = z.infer<typeof playCostSchema>;
