import { z } from 'zod';

/** What a sound is to a recording; its token is drawn by it. */
export const soundRoles = ['game', 'voice', 'chat', 'music', 'other'] as const;
export type SoundRole = (typeof soundRoles)[number];
/** Sounds of one role that may be heard at once. */
const suffixes = ['', '-2', '-3', '-4'] as const;
type Suffix = (typeof suffixes)[number];

/** Name by which lanes keep a sound: its role, numbered from the second on. */
export type SoundSource = `${SoundRole}${Suffix}`;
export const soundSources = suffixes.flatMap((suffix) => soundRoles.map((role): SoundSource => `${role}${suffix}`));
export const soundSourceSchema = z.enum(soundSources as [SoundSource, ...SoundSource[]]);

/** The role of a sound by its name. */
export const roleOf = (source: SoundSource): SoundRole =>
  soundRoles.find((role) => source === role || source.startsWith(`${role}-`)) ?? 'other';

/** Most sounds that are heard at once. */
export const mostSounds = 8;

/** Devices that the system chooses: what is heard through the output in use, and the microphone in use. */
export const heardDevice = '@heard';
export const microphoneDevice = '@microphone';

/**
 * Where a sound comes from: a stand-in of the practice game; a device of the system, by its own name, be it a microphone or
 * what is heard through an output; what one program plays; or the page, which asks the browser.
 */
export const soundFromSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('practice'), part: z.enum(['game', 'voice', 'chat']) }),
  z.object({ kind: z.literal('device'), device: z.string().min(1).max(300), words: z.string().max(200).default('') }),
  z.object({ kind: z.literal('program'), program: z.string().min(1).max(200) }),
  z.object({ kind: z.literal('page'), what: z.enum(['microphone', 'playback']) }),
]);
export type SoundFrom = z.infer<typeof soundFromSchema>;

/** When a microphone is heard: always, while a key is held, or never. */
export const soundOpenings = ['open', 'held', 'closed'] as const;
export type SoundOpening = (typeof soundOpenings)[number];

/** A sound that is heard, before it is kept on lanes. */
export const soundInputSchema = z.object({
  id: soundSourceSchema,
  name: z.string().trim().min(1).max(40),
  from: soundFromSchema,
  /** Added to its level, decibels. */
  gainDb: z.number().min(-60).max(24).default(0),
  muted: z.boolean().default(false),
  opening: z.enum(soundOpenings).default('open'),
});
export type SoundInput = z.infer<typeof soundInputSchema>;

/** The practice game's own sound, and its stand-ins for a microphone and a voice chat. */
export const practiceSounds: readonly SoundInput[] = [
  { id: 'game', name: 'Game', from: { kind: 'practice', part: 'game' }, gainDb: 0, muted: false, opening: 'open' },
  { id: 'voice', name: 'Voice', from: { kind: 'practice', part: 'voice' }, gainDb: 0, muted: false, opening: 'open' },
  { id: 'chat', name: 'Chat', from: { kind: 'practice', part: 'chat' }, gainDb: 0, muted: false, opening: 'open' },
];

/** Sounds of which each has a name of its own. */
export const soundInputsSchema = z
  .array(soundInputSchema)
  .max(mostSounds)
  .refine((sounds) => new Set(sounds.map(({ id }) => id)).size === sounds.length, {
    message: 'Two sounds have the same place.',
  });

/** Where the speakers of a device stand, as far as mixing down asks. */
export const channelPlaces = [
  'mono',
  'front-left',
  'front-right',
  'front-center',
  'lfe',
  'rear-left',
  'rear-right',
  'rear-center',
  'side-left',
  'side-right',
  'other',
] as const;
export const channelPlaceSchema = z.enum(channelPlaces);
export type ChannelPlace = z.infer<typeof channelPlaceSchema>;

/** A device, or a program that plays, as the system tells of it. */
export const soundDeviceSchema = z.object({
  /** Name the system knows it by. */
  device: z.string(),
  /** Name for people. */
  words: z.string(),
  kind: z.enum(['microphone', 'output']),
  /** It is the one the system chooses. */
  usual: z.boolean(),
  /** Null where the system does not tell. */
  rateHz: z.number().nullable(),
  bits: z.int().nullable(),
  channels: z.array(channelPlaceSchema).nullable(),
  /** Volume set in the system, decibels; null where it does not tell. */
  volumeDb: z.number().nullable(),
  /** Amplification of the device beyond its full scale, decibels; null where the system does not tell. */
  boostDb: z.number().nullable(),
  muted: z.boolean().nullable(),
});
export type SoundDevice = z.infer<typeof soundDeviceSchema>;

/** What can be heard on this PC now. */
export const soundDevicesSchema = z.object({
  /** Why nothing of the system can be heard, in words; null where it can. */
  trouble: z.string().nullable(),
  /** Which part of the system brings the sounds. */
  by: z.enum(['pulse', 'dshow', 'avfoundation', 'none']),
  devices: z.array(soundDeviceSchema),
  programs: z.array(z.object({ program: z.string(), words: z.string(), output: z.string() })),
});
export type SoundDevices = z.infer<typeof soundDevicesSchema>;

/** How a sound is doing: it comes, it comes and is silent, it does not come, or its device is just being opened. */
export const soundStates = ['alive', 'silent', 'away', 'opening'] as const;
export type SoundState = (typeof soundStates)[number];

/** Level of a sound over the last tenth of a second, after its gain. */
export const soundLevelSchema = z.object({
  id: soundSourceSchema,
  state: z.enum(soundStates),
  peakDbfs: z.number().nullable(),
  rmsDbfs: z.number().nullable(),
  /** Loudness of the last 3 s (short-term, EBU Tech 3341); null before it is known. */
  loudnessLufs: z.number().nullable(),
  /** Why it does not come. */
  why: z.string().nullable(),
});
export type SoundLevel = z.infer<typeof soundLevelSchema>;

/** Level of a lane as the sounds on it would be mixed. */
export const laneLevelSchema = z.object({ peakDbfs: z.number().nullable(), loudnessLufs: z.number().nullable() });
export type LaneLevel = z.infer<typeof laneLevelSchema>;

/** What is listened to before anything rolls: sounds, and which of them each lane keeps. */
export const listeningSchema = z.strictObject({
  /** Who asks, as the setup whose Sound is open: each is listened for by itself. */
  who: z.string().max(40).default(''),
  sounds: soundInputsSchema,
  lanes: z.array(z.array(soundSourceSchema).max(mostSounds)).max(24).default([]),
});
export type Listening = z.infer<typeof listeningSchema>;

/** The last seconds of a lane that somebody listens to. */
export const lastHeardSchema = z.strictObject({ who: z.string().max(40).default(''), lane: z.int().min(0).max(23) });

/** Levels of the last tenth of a second. */
export const heardLevelsSchema = z.object({ sounds: z.array(soundLevelSchema), lanes: z.array(laneLevelSchema) });
export type HeardLevels = z.infer<typeof heardLevelsSchema>;

/** Where the application hands on what its page hears, and the word that it is given out for. */
export const pageSoundsSchema = z.object({ address: z.string(), token: z.string() });
export type PageSounds = z.infer<typeof pageSoundsSchema>;

/** What became of a sound that came from outside in a take. */
export const soundReportSchema = z.object({
  id: soundSourceSchema,
  name: z.string(),
  rateHz: z.number(),
  channels: z.int(),
  /** By how much its clock runs faster than the picture's, parts per million; null where that cannot be told from not at all. */
  driftPpm: z.number().nullable(),
  /** Times it went away, and seconds filled with silence for it. */
  away: z.int(),
  silenceS: z.number(),
  /** Level of the lead-in's quiet second; null where there was none, or nothing in it. */
  floorDbfs: z.number().nullable(),
});
export type SoundReport = z.infer<typeof soundReportSchema>;
