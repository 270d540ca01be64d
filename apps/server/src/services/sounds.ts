import { deviceOf, isHeard, listWords, waveFile } from '@mellow/core';
import { listSounds, startListener, type Listener } from '@mellow/engine';
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
import { problem } from '../http/problem';
import type { AppLog } from './appLog';
import type { JobService } from './jobs';
import { createPageSoundHub, type PageSoundHub } from './pageSounds';

export interface SoundService {
  /** What can be heard on this PC now. */
  list(): Promise<SoundDevices>;
  /** Levels of sounds and lanes as they are now; listening goes on as long as somebody asks. */
  levels(to: Listening): Promise<HeardLevels>;
  /** The last seconds of a lane as it was mixed, as a WAVE file. @throws a problem where nobody listens */
  lastHeard(lane: number): Promise<Uint8Array>;
  /** Where the recorder finds the page's sounds. @throws a problem in words where a sound that a recipe keeps is not there */
  mustBeThere(recipe: Recipe): Promise<PageSounds>;
  pages: PageSoundHub;
  close(): void;
}

const silent: HeardLevels = { sounds: [], lanes: [] };
/** Nobody looks any longer: devices are let go. */
const idleMs = 5000;

export function createSoundService(jobs: JobService, log: AppLog): SoundService {
  const pages = createPageSoundHub();
  let listening: { asked: string; listener: Promise<Listener>; levels: HeardLevels } | null = null;
  let idle: NodeJS.Timeout | undefined;

  async function list(): Promise<SoundDevices> {
    return (
      (await listSounds()) ??
      soundDevicesSchema.parse(await jobs.run({ title: 'Asking for sound devices', job: { kind: 'list-sounds' } }))
    );
  }

  function stopListening(): void {
    clearTimeout(idle);
    const was = listening;
    listening = null;
    void was?.listener.then((listener) => listener.close()).catch(() => {});
  }

  function begin(): Promise<Listener> {
    return startListener().then((listener) => {
      listener.onLevels((levels) => {
        if (listening) listening.levels = levels;
      });
      listener.onExit(() => {
        if (listening) log.add('warn', 'The process that listens before a take has ended; it is started again.');
        stopListening();
      });
      return listener;
    });
  }

  return {
    pages,
    list,
    async levels(to) {
      clearTimeout(idle);
      idle = setTimeout(stopListening, idleMs);
      idle.unref();
      const asked = JSON.stringify(to);
      listening ??= { asked: '', listener: begin(), levels: silent };
      const now = listening;
      if (now.asked !== asked) {
        now.asked = asked;
        now.levels = silent;
        const listener = await now.listener.catch((error: unknown) => {
          stopListening();
          throw error;
        });
        if (now.asked === asked) listener.listenTo(to, pages.door);
      }
      return now.levels;
    },
    async lastHeard(lane) {
      if (!listening) throw problem('not-found', 'Nobody listens now, so there is nothing to hear again. Open Sound.');
      const samples = await (await listening.listener).lastHeard(lane);
      if (!samples.length) throw problem('not-found', 'Nothing has been heard on that lane yet. Wait a moment.');
      return waveFile(samples);
    },
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
      stopListening();
      pages.close();
    },
  };
}

const pageTrouble = (pages: PageSoundHub, what: 'microphone' | 'playback'): string | null =>
  pages.comes(what) ? null : 'no page listens to it now; open it on Sound, and leave that page open.';

/** Why a device or program cannot be heard now; a program that plays nothing yet is waited for. */
function deviceTrouble(found: SoundDevices, from: SoundInput['from']): string | null {
  if (from.kind === 'practice' || from.kind === 'page') return null;
  if (found.trouble) return found.trouble;
  if (from.kind === 'program' || deviceOf(from, found)) return null;
  if (from.device === microphoneDevice) return 'no microphone is connected to this PC.';
  if (from.device === heardDevice) return 'no output is in use on this PC.';
  return `${from.words || from.device} is not connected to this PC now.`;
}
