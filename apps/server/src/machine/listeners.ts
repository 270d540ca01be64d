import { startListener, type Listener } from '@mellow/engine';
import type { HeardLevels, Listening, PageSounds } from '@mellow/model';
import { problem } from '../errors/problem';
import type { AppLog } from '../program/appLog';

/** Listening before anything rolls: for each who asks a process of its own, as long as it is asked. */
export interface Listeners {
  /** @throws in words where listening cannot be started */
  levels(to: Listening): Promise<HeardLevels>;
  /** Interleaved stereo of 16 bit at 48 kHz. @throws a problem where nobody listens for it */
  lastHeard(who: string, lane: number): Promise<Int16Array>;
  close(): void;
}

interface Ear {
  asked: string;
  listener: Promise<Listener>;
  levels: HeardLevels;
  idle: NodeJS.Timeout | undefined;
}

const silent: HeardLevels = { sounds: [], lanes: [] };
/** Nobody looks any longer: devices are let go. */
const idleMs = 5000;
/** Tabs that are open beside each other; more are refused, as each holds devices open. */
const mostEars = 4;

export function createListeners(door: PageSounds, log: AppLog): Listeners {
  const ears = new Map<string, Ear>();

  function end(who: string, ear: Ear): void {
    clearTimeout(ear.idle);
    if (ears.get(who) === ear) ears.delete(who);
    void ear.listener.then((listener) => listener.close()).catch(() => {});
  }

  function begin(who: string): Ear {
    if (ears.size >= mostEars)
      throw problem('still-used', `${mostEars} pages listen already. Close Sound in one of them, and try again.`);
    const ear: Ear = { asked: '', listener: startListener(), levels: silent, idle: undefined };
    ears.set(who, ear);
    void ear.listener
      .then((listener) => {
        listener.onLevels((levels) => void (ear.levels = levels));
        listener.onExit(() => {
          if (ears.get(who) !== ear) return;
          log.add('warn', 'The process that listens before a take has ended; it is started again.');
          end(who, ear);
        });
      })
      .catch(() => end(who, ear));
    return ear;
  }

  return {
    async levels(to) {
      const ear = ears.get(to.who) ?? begin(to.who);
      clearTimeout(ear.idle);
      ear.idle = setTimeout(() => end(to.who, ear), idleMs);
      ear.idle.unref();
      const asked = JSON.stringify(to);
      if (ear.asked !== asked) {
        ear.asked = asked;
        ear.levels = silent;
        const listener = await ear.listener;
        if (ear.asked === asked) listener.listenTo(to, door);
      }
      return ear.levels;
    },
    async lastHeard(who, lane) {
      const ear = ears.get(who);
      if (!ear) throw problem('not-found', 'Nobody listens now, so there is nothing to hear again. Open Sound.');
      const samples = await (await ear.listener).lastHeard(lane);
      if (!samples.length) throw problem('not-found', 'Nothing has been heard on that lane yet. Wait a moment.');
      return samples;
    },
    close() {
      for (const [who, ear] of [...ears]) end(who, ear);
    },
  };
}
