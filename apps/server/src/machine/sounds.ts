import { deviceOf, isHeard, listWords, waveFile } from '@mellow/core';
import { listSounds } from '@mellow/engine';
import {
  heardDevice,
  microphoneDevice,
  soundDevicesSchema,
  type HeardLevels,
  type Listening,
  type PageSounds,
  type Recipe,
  type SoundDevices,
  type SoundInput,
} from '@mellow/model';
import { problem } from '../errors/problem';
import type { AppLog } from '../program/appLog';
import type { JobService } from '../files/jobs';
import { createListeners } from './listeners';
import { createPageSoundHub, type PageSoundHub } from './pageSounds';

export interface SoundService {
  /** What can be heard on this PC now. */
  list(): Promise<SoundDevices>;
  /** Levels of sounds and lanes as they are now; listening goes on as long as somebody asks. */
  levels(to: Listening): Promise<HeardLevels>;
  /** The last seconds of a lane as it was mixed, as a WAVE file. @throws a problem where nobody listens */
  lastHeard(who: string, lane: number): Promise<Uint8Array>;
  /** Where the recorder finds the page's sounds. @throws a problem in words where a sound that a recipe keeps is not there */
  mustBeThere(recipe: Recipe): Promise<PageSounds>;
  pages: PageSoundHub;
  close(): void;
}

export function createSoundService(jobs: JobService, log: AppLog): SoundService {
  const pages = createPageSoundHub();
  const listeners = createListeners(pages.door, log);

  async function list(): Promise<SoundDevices> {
    return (
      (await listSounds()) ??
      soundDevicesSchema.parse(await jobs.run({ title: 'Asking for sound devices', job: { kind: 'list-sounds' } }))
    );
  }

  return {
    pages,
    list,
    levels: listeners.levels,
    lastHeard: async (who, lane) => waveFile(await listeners.lastHeard(who, lane)),
    async mustBeThere(recipe) {
      const kept = new Set(recipe.lanes.flatMap(({ sources }) => sources));
      const wanted = recipe.sounds.filter((sound) => kept.has(sound.id) && isHeard(sound));
      const devices = wanted.some(({ from }) => from.kind === 'device' || from.kind === 'program')
        ? await list()
        : null;
      const missing = wanted.flatMap(({ name, from }) => {
        const why = from.kind === 'page' ? pageTrouble(pages, from.what) : devices && deviceTrouble(devices, from);
        return why ? [`${name}: ${why}`] : [];
      });
      if (missing.length)
        throw problem(
          'no-sound',
          `${listWords(missing)} Choose another source on Sound, mute it, or take it off its lanes; the take was not begun.`,
        );
      return pages.door;
    },
    close() {
      listeners.close();
      pages.close();
    },
  };
}

function pageTrouble(pages: PageSoundHub, what: 'microphone' | 'playback'): string | null {
  return pages.comes(what) ? null : 'no page listens to it now; open it on Sound, and leave that page open.';
}

/** Why a device or program cannot be heard now; a program that plays nothing yet is waited for. */
function deviceTrouble(found: SoundDevices, from: SoundInput['from']): string | null {
  if (from.kind === 'practice' || from.kind === 'page') return null;
  if (found.trouble) return found.trouble;
  if (from.kind === 'program' || deviceOf(from, found)) return null;
  if (from.device === microphoneDevice) return 'no microphone is connected to this PC.';
  if (from.device === heardDevice) return 'no output is in use on this PC.';
  return `${from.words || from.device} is not connected to this PC now.`;
}
