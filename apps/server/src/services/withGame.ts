import { isLeftAlone, sameProgram, errorText } from '@mellow/core';
import { processNames } from '@mellow/engine';
import type { Setup, WithGame } from '@mellow/model';
import { problem, ProblemError } from '../http/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { AppLog } from './appLog';
import type { LeftAlone } from './leftAlone';
import type { LiveHub } from './liveHub';
import type { SetupService } from './setups';

/** Full takes that begin when a program appears and end when it goes. */
export interface WithGameService {
  /** Stores it; where it is switched on and the program runs already, the take begins at once. */
  set(setupId: string, withGame: WithGame | null): Promise<Setup>;
  programs(): Promise<string[]>;
  /** Another take goes on for one that was begun with a game: it ends with the game too. */
  tookOver(earlierTakeId: string, takeId: string): void;
  begin(): void;
  close(): void;
}

export interface WithGameServices {
  setups: SetupService;
  recorder: RecorderService;
  leftAlone: Pick<LeftAlone, 'names'>;
  live: LiveHub;
  log: AppLog;
  /** Programs that run now; for tests. */
  programs?: () => Promise<string[]>;
  lookEveryMs?: number;
}

export function createWithGame({
  setups,
  recorder,
  leftAlone,
  live,
  log,
  programs = processNames,
  lookEveryMs = 2000,
}: WithGameServices): WithGameService {
  /** Setups whose program runs, and the take that was begun with it: null where it is none of ours. */
  const running = new Map<string, string | null>();
  let timer: NodeJS.Timeout | null = null;
  let looking: Promise<void> | null = null;
  let failed = false;

  async function roll(setup: Setup): Promise<void> {
    try {
      running.set(setup.id, (await recorder.startTrial(setup.id, null, 'full')).id);
    } catch (error) {
      // It is tried again when the program appears again: not every two seconds.
      const { title, detail } =
        error instanceof ProblemError ? error.problem : { title: 'It did not roll', detail: errorText(error) };
      live.notify(
        'loss',
        title,
        `${setup.withGame?.process ?? 'The game'} has begun, and ${setup.name} does not roll: ${detail}`,
        null,
      );
    }
  }

  /** What runs, without what is left alone. */
  async function seen(): Promise<string[]> {
    const alone = await leftAlone.names();
    return (await programs()).filter((name) => !isLeftAlone(alone, name));
  }

  /** @param first what runs already was there before anybody asked, and begins nothing */
  async function look(first: boolean): Promise<void> {
    const armed = (await setups.list()).filter(({ withGame }) => withGame?.on);
    if (!armed.length) return running.clear();
    const [names, alone] = [await programs(), await leftAlone.names()];
    for (const setup of armed) {
      const runs = names.find((name) => sameProgram(setup.withGame?.process ?? '', name));
      if (runs && !running.has(setup.id)) {
        // Known from now on: what is no longer left alone begins a take when it appears again, and not by itself.
        running.set(setup.id, null);
        if (!first && !isLeftAlone(alone, runs)) await roll(setup);
      }
      if (!runs && running.has(setup.id)) ended(setup.id);
    }
    for (const id of [...running.keys()]) if (!armed.some((setup) => setup.id === id)) running.delete(id);
  }

  /** Its own take ends with it, and no other. */
  function ended(setupId: string): void {
    const takeId = running.get(setupId);
    running.delete(setupId);
    if (takeId && live.state().take?.takeId === takeId && live.state().recorder === 'rolling') recorder.stop();
  }

  function lookOnce(first: boolean): Promise<void> {
    looking ??= look(first)
      .then(() => void (failed = false))
      .catch((error: unknown) => {
        if (!failed) log.add('warn', `What runs cannot be looked at: ${errorText(error)}`);
        failed = true;
      })
      .finally(() => (looking = null));
    return looking;
  }

  return {
    programs: seen,
    tookOver(earlier, now) {
      for (const [setupId, takeId] of running) if (takeId === earlier) running.set(setupId, now);
    },
    async set(setupId, withGame) {
      if (withGame?.on && isLeftAlone(await leftAlone.names(), withGame.process))
        throw problem(
          'bad-request',
          `${withGame.process} is left alone: no take begins with it. Let it be recorded again on Path, under Capture.`,
        );
      await looking;
      running.delete(setupId);
      const setup = await setups.setWithGame(setupId, withGame);
      if (withGame?.on) await lookOnce(false);
      return setup;
    },
    begin() {
      void lookOnce(true);
      timer = setInterval(() => void lookOnce(false), lookEveryMs);
      timer.unref();
    },
    close: () => void (timer && clearInterval(timer)),
  };
}
