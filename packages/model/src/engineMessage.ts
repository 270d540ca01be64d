import { z } from 'zod';
import { cameraInputSchema, cameraReportSchema } from './camera';
import { frameRateSchema } from './frameRate';
import { bindingSchema, keyActions } from './keys';
import { effortSchema, encoderSchema, recipeSchema } from './recipe';
import { practiceGameSchema } from './game';
import { machineSchema } from './machine';
import { cutSchema } from './cut';
import { clockSchema } from './ledger';
import { scriptEventSchema } from './script';
import { mediaFactsSchema } from './mediaFacts';
import { ledgerSummarySchema } from './ledgerSummary';
import { gameRunSchema } from './playCost';
import { liveTakeSchema } from './live';
import { hindsightOrderSchema, keepOrderSchema, keptSchema } from './hindsight';
import { takeEndSchema } from './take';
import { stripeLayoutSchema, stripeOrderSchema } from './stripes';
import { partFileSchema, partOrderSchema } from './parts';
import { pageSoundsSchema, heardLevelsSchema, listeningSchema, soundReportSchema, soundSourceSchema } from './sound';
import { grabbedSourceSchema, practiceSource, sourceSchema } from './source';
import { fileIdentitySchema } from './takeFile';

/** Samples as they come through a process's channel, whichever realm has made them. */
const int16Schema = z.custom<Int16Array<ArrayBuffer>>(
  (value) => Object.prototype.toString.call(value) === '[object Int16Array]',
);

/** Everything the engine needs to make one take. */
export const takeOrderSchema = z.object({
  takeId: z.string(),
  recipe: recipeSchema,
  game: practiceGameSchema,
  source: sourceSchema.default(practiceSource),
  machine: machineSchema,
  clock: clockSchema,
  /** Due frames to record. */
  dueFrames: z.int().min(1),
  /** Nobody knows how long it gets: the frames are only the most there may be. */
  openEnd: z.boolean().default(false),
  /** Seconds for which game and path run before due 0. */
  warmUpS: z.number().min(0).max(2).default(2),
  /** Seconds of the game without recording, before; 0 leaves it out. */
  baselineS: z.number().min(0).max(60),
  /** How often the game is played without and with recording in turns; the take is the last of them. */
  pairs: z.int().min(1).max(4).default(1),
  /** The media file, complete path: reserved before, empty, and opened only while it is still the same file. */
  filePath: z.string(),
  identity: fileIdentitySchema,
  /** The take's own folder for ledger, header and log. */
  ledgerFolder: z.string(),
  driveFolder: z.string(),
  quotaBytes: z.number().nullable(),
  /** Most bytes the drive's file system keeps in one file; null: no limit. */
  largestFileBytes: z.number().nullable().default(null),
  /** Bytes that may wait for the drive before frames are refused. */
  waitingLimitBytes: z.number(),
  /** A file that keeps so much room back really, and is given up when it is needed; null: nothing is kept back. */
  reservePath: z.string().nullable().default(null),
  /** Free room at which the take is closed while it still can be. */
  reserveBytes: z.number(),
  encoderThreads: z.int().min(0).max(64),
  script: z.array(scriptEventSchema),
  /** For a simulated take: what becomes of each due, and which of the game's slots it shows; driven clock only. */
  plan: z
    .object({ fate: z.array(z.int()), cause: z.array(z.int()), slot: z.array(z.int().nullable()) })
    .nullable()
    .default(null),
  /** Turn a few pre-drawn pictures round instead of drawing (benchmarks); 0 draws. */
  predrawnFrames: z.int().min(0).max(120),
  /** Where the page's sounds are handed on; null where no page is asked. */
  pageSounds: pageSoundsSchema.nullable().default(null),
  /** The camera's own file, where it has one and is written. */
  cameraFile: z.object({ path: z.string(), identity: fileIdentitySchema }).nullable().default(null),
  /** Nothing is filed: only the last minutes are held, and path and identity name nothing. */
  unfiled: z.boolean().default(false),
  hindsight: hindsightOrderSchema.nullable().default(null),
  /** When a new file is begun; null: the take is one file. */
  parts: partOrderSchema.nullable().default(null),
  /** Where its blocks go; null: all into one file at a time. */
  stripes: stripeOrderSchema.nullable().default(null),
  /** How the camera is opened in place of the system's own way; for tests. */
  cameraInput: cameraInputSchema.nullable().default(null),
  /** Keep what the encoder is given for a few dozen frames, to compare the file's pictures with. */
  keepPictures: z.boolean().default(false),
});
export type TakeOrder = z.infer<typeof takeOrderSchema>;
export type TakeOrderInput = z.input<typeof takeOrderSchema>;

/** What the recorder says when the container is closed; reading it back is another process's work. */
export const takeClosingSchema = z.object({
  takeId: z.string(),
  end: takeEndSchema,
  endText: z.string().nullable(),
  filePath: z.string(),
  /** Identity where the file lies elsewhere than ordered (a drive that went away); null: the one of the order. */
  movedIdentity: fileIdentitySchema.nullable(),
  /** Stripes whose drives went away, and where what their open files held was kept. */
  keptStripes: z
    .array(z.object({ stripe: z.int().min(0), path: z.string(), identity: fileIdentitySchema }))
    .default([]),
  /** The container was closed; otherwise the file has to be rescued. */
  closedWell: z.boolean(),
  presented: z.int().nullable(),
  passedOver: z.int().nullable(),
  notReached: z.int().nullable(),
  baseline: gameRunSchema.nullable(),
  recorded: gameRunSchema.nullable(),
  pairs: z.int().min(0).default(1),
  /** Real time from due 0 to the last packet, for throughput. */
  wallUs: z.number(),
  /** Memory of the recorder's process over the take, evenly spread, 256 samples at most. */
  memoryBytes: z.array(z.number()).max(256),
  latenessUs: z.object({ median: z.number(), p95: z.number(), worst: z.number() }).nullable(),
  /** Sound of each lane that came too late and was filled with silence, samples. */
  silenceSamples: z.array(z.int()),
  sounds: z.array(soundReportSchema).default([]),
  camera: cameraReportSchema.nullable().default(null),
  /** All files of the take in order, where there is more than one. */
  parts: z.array(partFileSchema).default([]),
  /** Pauses that were left out. */
  cuts: z.array(cutSchema).default([]),
  /** Pictures of the sample that could not be decoded in time. */
  sampleLeftOut: z.int().min(0).default(0),
});
export type TakeClosing = z.infer<typeof takeClosingSchema>;

/** What reading a closed file back found, and the figures of its ledger. */
export const readBackResultSchema = z.object({
  facts: mediaFactsSchema.nullable(),
  summary: ledgerSummarySchema,
  tailFrames: z.int(),
  fileOffsetUs: z.number().nullable(),
  /** Sentences on what ledger and file do not agree in; empty where all is well. */
  disagreements: z.array(z.string()),
});
export type ReadBackResult = z.infer<typeof readBackResultSchema>;

/** A take as the recorder closed it and as it was read back. */
export type TakeResult = TakeClosing & ReadBackResult;

/** Media work on files, each in a process of its own. */
export const mediaJobSchema = z.discriminatedUnion('kind', [
  /** Reads a closed take's file back, reconciles it with the ledger and closes the ledger. */
  z.object({
    kind: z.literal('read-back'),
    ledgerFolder: z.string(),
    filePath: z.string(),
    interrupted: z.boolean(),
    presented: z.int().nullable(),
    passedOver: z.int().nullable(),
    notReached: z.int().nullable(),
  }),
  z.object({
    kind: z.literal('rescue'),
    ledgerFolder: z.string(),
    filePath: z.string(),
    /** The file's identity as it was reserved; a file that is not the same is left alone. Null in takes stored earlier. */
    identity: fileIdentitySchema.nullable(),
    fallbackFolder: z.string(),
    /** Parts before it, which are closed, and where it begins itself. */
    earlier: z.array(partFileSchema.pick({ path: true, startUs: true })).default([]),
    startUs: z.number().min(0).default(0),
    /** Its stripes in order, where it is spread over several files. */
    stripes: stripeLayoutSchema
      .extend({ files: z.array(z.object({ path: z.string(), identity: fileIdentitySchema.nullable() })) })
      .optional(),
    /** Frames known to have been due when the recorder died, as far as anybody heard or the clock tells. */
    dueHeard: z.int().min(0),
  }),
  z.object({
    kind: z.literal('hear'),
    filePath: z.string(),
    lane: z.int().min(0),
    outPath: z.string(),
    /** The rate the file was made at; null takes the file's own word. */
    rate: frameRateSchema.nullable().default(null),
  }),
  z.object({ kind: z.literal('facts'), filePath: z.string() }),
  /** The same, and whether its pictures can be decoded. */
  z.object({ kind: z.literal('sample-facts'), filePath: z.string() }),
  z.object({ kind: z.literal('still'), filePath: z.string(), outPath: z.string(), atUs: z.number() }),
  /** Asks the media library which sound devices there are. */
  z.object({ kind: z.literal('list-sounds') }),
  /** A small picture of what would be recorded. */
  z.object({ kind: z.literal('screen-look'), source: grabbedSourceSchema }),
  /** The same for cameras. */
  z.object({ kind: z.literal('list-cameras') }),
  /** Makes one clip of what a recorder that died held on the drive. */
  z.object({
    kind: z.literal('gather-hindsight'),
    folder: z.string(),
    outPath: z.string(),
    identity: fileIdentitySchema,
  }),
  /** Moves a file that is still the same onto a name that was reserved for it. */
  z.object({
    kind: z.literal('move-file'),
    filePath: z.string(),
    identity: fileIdentitySchema.nullable(),
    outPath: z.string(),
    outIdentity: fileIdentitySchema,
  }),
  z.object({ kind: z.literal('drive-test'), folder: z.string(), mostS: z.number().positive().max(120) }),
  /** Copies all tracks into a Matroska or plain MP4, by the name's ending, and reads both back. A name that is taken gets a number. */
  z.object({
    kind: z.literal('rewrap'),
    filePath: z.string(),
    outPath: z.string(),
    rate: frameRateSchema.nullable().default(null),
    /** Puts a striped take together byte by byte. */
    asIs: z.boolean().optional(),
  }),
  /** Whether a copy holds every byte of a take's tracks, and every picture in its frame. */
  z.object({ kind: z.literal('same-tracks'), filePath: z.string(), copyPath: z.string(), rate: frameRateSchema }),
  /** Holds the kept pictures of a take against its file; they are thrown away afterwards by whoever asked. */
  z.object({
    kind: z.literal('compare-kept'),
    keptPath: z.string(),
    filePath: z.string(),
    widthPx: z.int(),
    heightPx: z.int(),
    rate: frameRateSchema,
    fileOffsetUs: z.number(),
  }),
  /** Encodes frames of a take once more without a clock, for the time they take. */
  z.object({
    kind: z.literal('encode-unpaced'),
    filePath: z.string(),
    recipe: recipeSchema,
    frames: z.int().min(2).max(600),
    atUs: z.number().min(0),
  }),
  /** Proves an encoder by a short test encode of the practice game. */
  z.object({
    kind: z.literal('prove-encoder'),
    encoder: encoderSchema,
    efforts: z.array(effortSchema).min(1),
    frames: z.int().min(2).max(600),
  }),
]);
export type MediaJob = z.infer<typeof mediaJobSchema>;
export type MediaJobInput = z.input<typeof mediaJobSchema>;

export const engineCommandSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('roll'), order: takeOrderSchema }),
  z.object({ type: z.literal('stop') }),
  /** A sound that is open only while a key is held. */
  z.object({ type: z.literal('hold'), sound: soundSourceSchema, open: z.boolean() }),
  /** Nothing is recorded until it goes on. */
  z.object({ type: z.literal('pause'), on: z.boolean() }),
  /** Part of what is held is wanted as a file. */
  z.object({ type: z.literal('keep'), keep: keepOrderSchema }),
  z.object({ type: z.literal('quit') }),
  /** @param journal where the job writes down what it does with files; null: nowhere */
  z.object({ type: z.literal('job'), job: mediaJobSchema, journal: z.string().nullable().default(null) }),
  /** What is to be listened to before anything rolls. */
  z.object({ type: z.literal('listen'), to: listeningSchema, pageSounds: pageSoundsSchema.nullable() }),
  /** Keys that are told of; of all others nothing is. */
  z.object({
    type: z.literal('keys'),
    chosen: z.array(z.object({ action: z.enum(keyActions), binding: bindingSchema })),
  }),
  /** The last seconds of a lane as its sounds were mixed are wanted. */
  z.object({ type: z.literal('last-heard'), lane: z.int().min(0) }),
]);
export type EngineCommand = z.infer<typeof engineCommandSchema>;

export const engineEventSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('ready'), pid: z.int() }),
  z.object({ type: z.literal('live'), live: liveTakeSchema.omit({ setupId: true, number: true }) }),
  z.object({ type: z.literal('beat') }),
  z.object({ type: z.literal('levels'), levels: heardLevelsSchema }),
  /** Interleaved stereo, 16 bit at 48 kHz, oldest first. */
  z.object({ type: z.literal('last-heard'), lane: z.int(), samples: int16Schema }),
  z.object({ type: z.literal('log'), level: z.enum(['info', 'warn', 'error']), text: z.string() }),
  z.object({ type: z.literal('key'), action: z.enum(keyActions), down: z.boolean() }),
  z.object({ type: z.literal('kept'), kept: keptSchema }),
  /** Another file of the take was begun. */
  z.object({ type: z.literal('part'), takeId: z.string(), part: partFileSchema }),
  z.object({ type: z.literal('closed'), closing: takeClosingSchema }),
  z.object({ type: z.literal('refused'), takeId: z.string(), text: z.string() }),
  /** A job's work so far, in units of its own; it rises as long as the job gets on. */
  z.object({ type: z.literal('progress'), done: z.number(), of: z.number().nullable() }),
  z.object({ type: z.literal('job-done'), result: z.unknown() }),
  z.object({ type: z.literal('job-failed'), text: z.string() }),
]);
export type EngineEvent = z.infer<typeof engineEventSchema>;

/** What a rescue found and kept. */
export const rescueResultSchema = readBackResultSchema.extend({
  /** Where the playable file lies; empty where there is none. */
  filePath: z.string(),
  identity: fileIdentitySchema.nullable(),
  /** The unclosed file, where it was kept beside. */
  openPath: z.string(),
  /** The last of several parts holds nothing to play; the others are the take. */
  emptyLast: z.boolean().default(false),
  /** The drive is away: nothing was changed, and the take is looked for again when it is back. */
  away: z.boolean(),
  lostUs: z.number(),
  text: z.string(),
});
export type RescueResult = z.infer<typeof rescueResultSchema>;

/** What a test encode found: processor time and time on the clock a frame, by effort. */
export const encoderProofSchema = z.object({
  works: z.boolean(),
  reason: z.string().nullable(),
  widthPx: z.int(),
  heightPx: z.int(),
  byEffort: z.partialRecord(effortSchema, z.object({ processorUs: z.number(), clockUs: z.number() })),
});
export type EncoderProof = z.infer<typeof encoderProofSchema>;

export const movedFileSchema = z.object({ path: z.string(), identity: fileIdentitySchema });

export const sameTracksSchema = z.object({
  /** What is not the same, in words; null: all is. */
  why: z.string().nullable(),
  pictures: z.int(),
  tracks: z.int(),
  bytes: z.number(),
});
export type SameTracks = z.infer<typeof sameTracksSchema>;

export const rewrapResultSchema = z.object({
  filePath: z.string(),
  identity: fileIdentitySchema,
  bytes: z.number(),
  pictures: z.int(),
  lanes: z.int(),
});
export type RewrapResult = z.infer<typeof rewrapResultSchema>;
