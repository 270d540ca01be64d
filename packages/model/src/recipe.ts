import { z } from 'zod';
import { cameraSchema } from './camera';
import { frameRateSchema } from './frameRate';
import { mostNextDrives, onePart, partsSchema } from './parts';
import { mostSounds, practiceSounds, soundInputsSchema, soundSourceSchema } from './sound';
import {
  scalingFilters,
  efforts,
  encoders,
  pixelKinds,
  fits,
  profiles,
  matrices,
  eyeTunings,
  priorities,
  mostLookAhead,
  subfolders,
  rateControls,
  containers,
  soundCodecs,
  mostLanes,
  leadIns,
} from './recipeChoices';
import { practiceSource, sourceSchema } from './source';
import { nameFromPattern, startName, takeNameSchema } from './takeName';

export const scalingFilterSchema = z.enum(scalingFilters);
export const effortSchema = z.enum(efforts);
export const encoderSchema = z.enum(encoders);
export const pixelKindSchema = z.enum(pixelKinds);
export const fitSchema = z.enum(fits);
export const profileSchema = z.enum(profiles);
export const subfolderSchema = z.enum(subfolders);

/** Earlier recipes call it "share". */
export const rateControlSchema = z.preprocess(
  (stored) => (stored === 'share' ? 'picture-by-picture' : stored),
  z.enum(rateControls),
);

export const containerSchema = z.enum(containers);
export const soundCodecSchema = z.enum(soundCodecs);

/** A sound track of the file, with the sources that feed it. */
export const laneSchema = z.object({
  name: z.string().trim().min(1).max(40),
  sources: z
    .array(soundSourceSchema)
    .min(1)
    .max(mostSounds)
    .refine((sources) => new Set(sources).size === sources.length, { message: 'A sound is on this lane twice.' }),
  codec: soundCodecSchema,
  /** Only AAC and Opus use it. */
  bitrateKbps: z.int().min(32).max(512),
});
export type Lane = z.infer<typeof laneSchema>;

export const leadInSchema = z.enum(leadIns);

/** Where a take lies below its drive's folder, and what it is called. Earlier recipes have a pattern with words in braces. */
const fileSchema = z.preprocess(
  (stored) => {
    const early = stored as { subfolder?: unknown; pattern?: unknown; name?: unknown } | null;
    if (typeof early?.pattern !== 'string' || early.name !== undefined) return stored;
    return { subfolder: early.subfolder ?? 'setup', name: nameFromPattern(early.pattern) };
  },
  z.object({ subfolder: subfolderSchema.default('day'), name: takeNameSchema.default(startName) }),
);

/** One complete set of settings along the frame path. */
export const recipeSchema = z.object({
  source: sourceSchema.default(practiceSource),
  rate: frameRateSchema,
  size: z.object({
    widthPx: z.int().min(64).max(7680),
    heightPx: z.int().min(64).max(4320),
    filter: scalingFilterSchema,
    fit: fitSchema.default('stretch'),
  }),
  /** A picture of the person who plays; null: none. */
  camera: cameraSchema.nullable().default(null),
  encode: z.object({
    encoder: encoderSchema.default('avc-software'),
    pixels: pixelKindSchema.default('4:2:0'),
    profile: profileSchema.default('high'),
    /** Threads the software encoder may use; 0 leaves it to the encoder. */
    threads: z.int().min(0).max(64).default(0),
    /** Quantiser of picture-by-picture codecs, on the codec's own scale: 1 is finest. */
    quantiser: z.int().min(1).max(31).default(4),
    effort: effortSchema,
    rateControl: rateControlSchema,
    /** Quality number on the encoder's own scale (0 to 51 or 63); lower is better and larger. */
    quality: z.int().min(0).max(63),
    bitrateKbps: z.int().min(100).max(400_000),
    /** Highest rate of variable bitrate. */
    ceilingKbps: z.int().min(100).max(600_000),
    keyDistanceFrames: z.int().min(1).max(2000),
    closedGroups: z.boolean(),
    bFrames: z.int().min(0).max(4),
    lowDelay: z.boolean(),
    range: z.enum(['limited', 'full']),
    matrix: z.enum(matrices).default('bt709'),
    /** Leaves out what costs a player or an editor most to decode. */
    easyDecode: z.boolean().default(false),
    /** Pictures that the encoder looks at before it decides on one; null: its own number. */
    lookAheadFrames: z.int().min(0).max(mostLookAhead).nullable().default(null),
    eyeTuning: z.enum(eyeTunings).default('own'),
    /** Which graphics card encodes, counted from 0; null: the first that does. */
    card: z.int().min(0).max(7).nullable().default(null),
  }),
  /** Of the encoder's threads, against the game's. */
  priority: z.enum(priorities).default('usual'),
  /** Everything that is heard; lanes keep of it what they name. */
  sounds: soundInputsSchema.default(() => practiceSounds.map((sound) => ({ ...sound }))),
  leadIn: leadInSchema.default('none'),
  /** As many as a container carries without a reader that gives up on them. */
  lanes: z.array(laneSchema).max(mostLanes),
  container: containerSchema,
  /** Copy the tracks into a plain MP4 beside the file once it is closed. */
  rewrap: z.boolean().default(false),
  /** The MP4 takes the take's place once it is proven to hold all of it; the file goes to the discards. */
  discardSource: z.boolean().default(false),
  driveId: z.string().min(1).max(40),
  file: fileSchema.default({ subfolder: 'day', name: startName }),
  /** A take ends by itself after so many minutes; null: it does not. */
  /** Whether a full take is one file or several. */
  parts: partsSchema.default(onePart),
  /** Drives that take over, in this order, where the one before has no room left. */
  nextDriveIds: z.array(z.string().min(1).max(40)).max(mostNextDrives).default([]),
  ceilingMinutes: z.int().min(1).max(1440).nullable().default(null),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** A recipe as it was given, where newer settings may be left out. */
export type RecipeInput = z.input<typeof recipeSchema>;
