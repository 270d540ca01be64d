import { z } from 'zod';

/** A run of the practice game in one manner. */
export const passageSchema = z.object({
  kind: z.enum(['calm', 'busy', 'loading']),
  seconds: z.number().min(0.5).max(600),
});
export type Passage = z.infer<typeof passageSchema>;

/** The practice game's settings; it stands in for a real game and knows its own frame times. */
export const practiceGameSchema = z.object({
  kind: z.literal('practice'),
  title: z.string().trim().min(1).max(60),
  seed: z.int().min(0).max(0x7fffffff),
  widthPx: z.int().min(320).max(3840).multipleOf(2),
  heightPx: z.int().min(180).max(2160).multipleOf(2),
  /** Highest frame rate of the game in fps; null lets it run free. */
  capFps: z.int().min(10).max(500).nullable(),
  /** 0 to 1: how fast the picture moves. */
  motion: z.number().min(0).max(1),
  /** 0 to 1: how much fine detail is drawn. */
  detail: z.number().min(0).max(1),
  /** Processor work the game does beside drawing, in microseconds a frame. */
  extraLoadUs: z.int().min(0).max(100_000),
  passages: z.array(passageSchema).min(1).max(20),
  /** Number strip, flash and click, by which a file can be accounted for frame by frame. */
  strip: z.boolean(),
});
export type PracticeGame = z.infer<typeof practiceGameSchema>;
