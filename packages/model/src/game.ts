import { z } from 'zod';

/** A run of the practice game in one manner. */
export const passageSchema = z.object({
  kind: z.enum(['calm', 'busy', 'loading']),
  seconds: z.number().min(0.5).max(600),
});
export type Passage = z.infer<typeof passageSchema>;

export const windowModes = ['full-screen', 'borderless', 'window'] as const;
export const motions = ['calm', 'middling', 'fast'] as const;
export type Motion = (typeof motions)[number];
export const antiCheats = ['none', 'usual', 'strict'] as const;
/** What may hold a game back without being one of its own settings. */
export const limiters = [
  'driver cap',
  'battery saving',
  'quiet mode',
  'sync to the display',
  'variable refresh',
] as const;
/** What may run beside a game and take frames from it. */
export const extras = [
  'overlay',
  'browser',
  'voice chat',
  'another recorder',
  'picture filters',
  'live output',
] as const;

/** What a person knows of the game; null is "I do not know". */
export const gameFactsSchema = z.object({
  /** Frames a second it reaches without a cap at the size it is played at. */
  freeFps: z.number().min(1).max(1000).nullable().default(null),
  motion: z.enum(motions).nullable().default(null),
  /** The drive it reads from: the id of a drive on the list, 'elsewhere', or unknown. */
  driveId: z.string().max(40).nullable().default(null),
  windowMode: z.enum(windowModes).default('full-screen'),
  /** Keys it uses, as a keyboard event names them. */
  keys: z.array(z.string().min(1).max(20)).max(60).default([]),
  /** Memory it needs, in GB. */
  memoryGb: z.number().min(0.1).max(256).nullable().default(null),
  antiCheat: z.enum(antiCheats).default('none'),
  limiters: z.array(z.enum(limiters)).max(8).default([]),
  extras: z.array(z.enum(extras)).max(8).default([]),
  /** Height of its smallest text, lines. */
  smallTextPx: z.int().min(4).max(200).default(14),
  notes: z.string().max(1000).default(''),
});
export type GameFacts = z.infer<typeof gameFactsSchema>;
const plainFacts: GameFacts = gameFactsSchema.parse({});

/** What the practice game draws: a fast race, a slow landscape, a dark building in first person. */
export const practiceScenes = ['paper-comets', 'harrow-vale', 'tin-cathedral'] as const;
export type PracticeSceneName = (typeof practiceScenes)[number];

/** The largest picture of a game: one of a person's own is as large as any source may be, the practice game as it can be drawn. */
export const mostGamePx = {
  own: { widthPx: 7680, heightPx: 4320 },
  practice: { widthPx: 3840, heightPx: 2160 },
} as const;

/**
 * A game: the practice game, which stands in for a real one and knows its own frame times, or one of a person's own, of which
 * only its size, its facts and what a person says are known; what is drawn by the practice game has no meaning then.
 */
export const gameFieldsSchema = z.object({
  kind: z.enum(['practice', 'own']),
  scene: z.enum(practiceScenes).default('paper-comets'),
  title: z.string().trim().min(1).max(60),
  seed: z.int().min(0).max(0x7fffffff),
  widthPx: z.int().min(320).max(mostGamePx.own.widthPx).multipleOf(2),
  heightPx: z.int().min(180).max(mostGamePx.own.heightPx).multipleOf(2),
  /** Highest frame rate of the game in fps; null lets it run free. */
  capFps: z.int().min(10).max(500).nullable(),
  /** 0 to 1: how fast the picture moves. */
  motion: z.number().min(0).max(1),
  /** 0 to 1: how much fine detail is drawn. */
  detail: z.number().min(0).max(1),
  /** Work of the game's main thread beside drawing, in microseconds a frame. */
  extraLoadUs: z.int().min(0).max(100_000),
  /** Threads that work beside the main one, and the work of each in microseconds a frame; a frame waits for all of them. */
  helpers: z.int().min(0).max(4).default(0),
  helperLoadUs: z.int().min(0).max(100_000).default(0),
  passages: z.array(passageSchema).min(1).max(20),
  /** Number strip, flash and click, by which a file can be accounted for frame by frame. */
  strip: z.boolean(),
  facts: gameFactsSchema.default(plainFacts),
});
export const practiceGameSchema = gameFieldsSchema.refine(
  ({ kind, widthPx, heightPx }) => widthPx <= mostGamePx[kind].widthPx && heightPx <= mostGamePx[kind].heightPx,
  { error: 'The practice game is drawn at 3840×2160 at most.' },
);
export type PracticeGame = z.infer<typeof practiceGameSchema>;
