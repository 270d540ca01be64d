import { z } from 'zod';
import { frameRateSchema } from './frameRate';

export const scalingFilters = ['nearest', 'bilinear', 'bicubic', 'area', 'lanczos', 'spline'] as const;
export const scalingFilterSchema = z.enum(scalingFilters);
export type ScalingFilter = z.infer<typeof scalingFilterSchema>;

/** The effort ladder: how long the encoder may look for savings; names are ours, the rungs are the encoder's. */
export const efforts = ['lightest', 'light', 'middle', 'thorough', 'most-thorough'] as const;
export const effortSchema = z.enum(efforts);
export type Effort = z.infer<typeof effortSchema>;

export const rateControls = ['constant-quality', 'constant-bitrate', 'variable-bitrate'] as const;
export const rateControlSchema = z.enum(rateControls);
export type RateControl = z.infer<typeof rateControlSchema>;

export const containers = ['matroska', 'fragmented-mp4', 'mp4'] as const;
export const containerSchema = z.enum(containers);
export type Container = z.infer<typeof containerSchema>;

export const soundCodecs = ['flac', 'pcm', 'aac', 'opus'] as const;
export const soundCodecSchema = z.enum(soundCodecs);
export type SoundCodec = z.infer<typeof soundCodecSchema>;

export const soundSources = ['game', 'voice', 'chat'] as const;
export const soundSourceSchema = z.enum(soundSources);
export type SoundSource = z.infer<typeof soundSourceSchema>;

/** A sound track of the file, with the sources that feed it. */
export const laneSchema = z.object({
  name: z.string().trim().min(1).max(40),
  sources: z.array(soundSourceSchema).min(1).max(3),
  codec: soundCodecSchema,
  /** Only AAC and Opus use it. */
  bitrateKbps: z.int().min(32).max(512),
});
export type Lane = z.infer<typeof laneSchema>;

/** One complete set of settings along the frame path. */
export const recipeSchema = z.object({
  rate: frameRateSchema,
  size: z.object({
    widthPx: z.int().min(64).max(7680),
    heightPx: z.int().min(64).max(4320),
    filter: scalingFilterSchema,
  }),
  encode: z.object({
    effort: effortSchema,
    rateControl: rateControlSchema,
    /** AVC quality number, 0 to 51; lower is better and larger. */
    quality: z.int().min(0).max(51),
    bitrateKbps: z.int().min(100).max(400_000),
    /** Highest rate of variable bitrate. */
    ceilingKbps: z.int().min(100).max(600_000),
    keyDistanceFrames: z.int().min(1).max(2000),
    closedGroups: z.boolean(),
    bFrames: z.int().min(0).max(4),
    lowDelay: z.boolean(),
    range: z.enum(['limited', 'full']),
  }),
  lanes: z.array(laneSchema).max(6),
  container: containerSchema,
  driveId: z.string().min(1).max(40),
});
export type Recipe = z.infer<typeof recipeSchema>;
