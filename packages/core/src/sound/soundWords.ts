import {
  heardDevice,
  microphoneDevice,
  roleOf,
  type Lane,
  type Recipe,
  type SoundFrom,
  type SoundInput,
  type SoundRole,
  type SoundSource,
} from '@mellow/model';
import { gameUnderVoiceZone, mixZone, voiceZone, type LevelZone } from './levels';

export const roleWords: Record<SoundRole, string> = {
  game: 'Game',
  voice: 'Microphone',
  chat: 'Voice chat',
  music: 'Music',
  other: 'Other sound',
};

/** Where a sound comes from, in words. */
export function fromWords(from: SoundFrom): string {
  switch (from.kind) {
    case 'practice':
      return from.part === 'game' ? 'practice game, stand-in' : `${from.part === 'voice' ? 'voice' : 'chat'}, stand-in`;
    case 'device':
      if (from.device === heardDevice) return 'what this PC plays';
      if (from.device === microphoneDevice) return 'the microphone in use';
      return from.words || from.device;
    case 'program':
      return `the program ${from.program}`;
    case 'page':
      return from.what === 'microphone' ? 'microphone by this page' : 'what this PC plays, by this page';
  }
}

/** "Game +0 dB; Microphone −6 dB, open while held". */
export function soundInputWords({ name, from, gainDb, muted, opening }: SoundInput): string {
  const level = muted ? 'muted' : `${gainDb < 0 ? '−' : '+'}${Math.abs(gainDb)} dB`;
  const open = opening === 'open' ? '' : opening === 'held' ? ', open while held' : ', closed';
  return `${name} (${fromWords(from)}) ${level}${open}`;
}

/** The name a person gave a sound; its place's own where there is none of that name. */
export const soundName = (sounds: readonly SoundInput[], source: SoundSource): string =>
  sounds.find(({ id }) => id === source)?.name ?? roleWords[roleOf(source)];

/** The sounds of a lane by name: "Game and Microphone". */
export const laneSoundNames = (recipe: Pick<Recipe, 'sounds'>, lane: Lane): string[] =>
  lane.sources.map((source) => soundName(recipe.sounds, source));

/** Where the peaks of a lane should stand, by what is on it and what is kept beside it. */
export function laneZone(lane: Lane, lanes: readonly Lane[]): LevelZone {
  const roles = new Set(lane.sources.map(roleOf));
  if (roles.size === 1 && (roles.has('voice') || roles.has('chat'))) return voiceZone;
  const voiceBeside = lanes.some(
    (other) => other !== lane && other.sources.every((source) => roleOf(source) === 'voice'),
  );
  if (!roles.has('voice') && voiceBeside) return gameUnderVoiceZone;
  return mixZone;
}

/**
 * The sounds of a recipe on another PC, where nobody's devices are: a device becomes the one that system chooses, a program what
 * is heard.
 */
export const portableSounds = (sounds: readonly SoundInput[]): SoundInput[] =>
  sounds.map((sound) => {
    if (sound.from.kind !== 'device' && sound.from.kind !== 'program') return sound;
    const device = roleOf(sound.id) === 'voice' ? microphoneDevice : heardDevice;
    return { ...sound, from: { kind: 'device', device, words: '' } };
  });

/** The sounds of the practice game that a take of somebody's own game would keep. */
export const standIns = (recipe: Pick<Recipe, 'sounds' | 'lanes'>): SoundInput[] =>
  recipe.sounds.filter(
    ({ id, from }) => from.kind === 'practice' && recipe.lanes.some((lane) => lane.sources.includes(id)),
  );

/**
 * What stands in for the practice game's sounds where a person's own game is recorded: what this PC plays, and the microphone.
 * A chat is heard with all the rest there, until it is sent to an output of its own.
 */
export function ownSounds<T extends Pick<Recipe, 'sounds' | 'lanes'>>(recipe: T): T {
  const gone = new Set<SoundSource>();
  const sounds = recipe.sounds.flatMap((sound): SoundInput[] => {
    if (sound.from.kind !== 'practice') return [sound];
    if (sound.from.part === 'chat') {
      gone.add(sound.id);
      return [];
    }
    const voice = sound.from.part === 'voice';
    const device = voice ? microphoneDevice : heardDevice;
    const name = sound.name === 'Voice' ? roleWords.voice : sound.name;
    return [{ ...sound, name, from: { kind: 'device', device, words: '' } }];
  });
  const lanes = recipe.lanes.flatMap((lane) => {
    const sources = lane.sources.filter((source) => !gone.has(source));
    return sources.length ? [{ ...lane, sources }] : [];
  });
  return { ...recipe, sounds, lanes };
}

/** A recipe without one of its sounds; lanes that kept nothing else go with it. */
export function withoutSound(recipe: Recipe, id: SoundSource): Recipe {
  const lanes = recipe.lanes.flatMap((lane) => {
    const sources = lane.sources.filter((source) => source !== id);
    return sources.length ? [{ ...lane, sources }] : [];
  });
  return { ...recipe, sounds: recipe.sounds.filter((sound) => sound.id !== id), lanes };
}

/** Whether a sound is listened to at all. */
export const isHeard = ({ muted, opening }: Pick<SoundInput, 'muted' | 'opening'>): boolean =>
  !muted && opening !== 'closed';
