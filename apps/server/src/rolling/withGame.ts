import { isLeftAlone, sameProgram, errorText } from '@mellow/core';
import { processNames } from '@mellow/engine';
import type { Setup, WithGame } from '@mellow/model';
import { problem, ProblemError } from '../errors/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { AppLog } from '../program/appLog';
import type { LeftAlone } from '../machine/leftAlone';
import type { LiveHub } from '../program/liveHub';
import type { SetupService } from '../setups/setups';

/** Full takes that begin when a program appears and end when it goes. */
export interface WithGameService {
  /** Stores it; where it is switched on and the program runs already, the take begins at once. */
  set(setupId: string, withGame: WithGame | null): Promise<Setup>;
  programs(): Promise<string[]>;
  /** Another take goes on for one that was begun with a game: it ends with the game too. */
  tookOver(earlierTakeId: string, takeId: string): void;
  /** Whether another take may go on for this one: it was not begun with a game, or the game still runs. */
  mayGoOn(takeId: string): boolean;
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
  /** Setups whose program runs; `waits`: a take is wanted, and what is still done of another one keeps it from beginning. */
  const running = new Map<string, { waits: boolean }>();
  /** Takes that were begun with a program, and whose. */
  const begunFor = new Map<string, string>();
  let timer: NodeJS.Timeout | null = null;
  let looking: Promise<void> | null = null;
  let failed = false;

  /** @param first what runs already was there before anybody asked, and begins nothing */
  async function look(first: boolean): Promise<void> {
    const armed = (await setups.list()).filter(({ withGame }) => withGame?.on);
    if (!armed.length) return running.clear();
    const [names, alone] = [await programs(), await leftAlone.names()];
    for (const setup of armed) {
      const runs = names.find((name) => sameProgram(setup.withGame?.process ?? '', name));
      const known = running.get(setup.id);
      if (runs && (!known || known.waits)) {
        // Known from now on: what is no longer left alone begins a take when it appears again, and not by itself.
        const seen = known ?? { waits: false };
        running.set(setup.id, seen);
        seen.waits = !first && !isLeftAlone(alone, runs) && (await roll({ recorder, live }, begunFor, setup));
      }
      if (!runs && known) ended(setup.id);
    }
    for (const id of [...running.keys()]) if (!armed.some((setup) => setup.id === id)) running.delete(id);
  }

  /** Its own take ends with it, and no other, whatever is being done of it. */
  function ended(setupId: string): void {
    running.delete(setupId);
    const takeId = live.state().take?.takeId;
    if (takeId && begunFor.get(takeId) === setupId) endTake(recorder);
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
    async programs() {
      const alone = await leftAlone.names();
      return (await programs()).filter((name) => !isLeftAlone(alone, name));
    },
    mayGoOn(takeId) {
      const setupId = begunFor.get(takeId);
      return setupId === undefined || running.has(setupId);
    },
    tookOver(earlier, now) {
      const setupId = begunFor.get(earlier);
      if (setupId === undefined) return;
      begunFor.set(now, setupId);
      if (!running.has(setupId)) endTake(recorder);
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

/** @returns whether it has to wait, and is tried again at the next look */
async function roll(
  { recorder, live }: Pick<WithGameServices, 'recorder' | 'live'>,
  begunFor: Map<string, string>,
  setup: Setup,
): Promise<boolean> {
  try {
    begunFor.set((await recorder.startTrial(setup.id, null, 'full')).id, setup.id);
  } catch (error) {
    const { type, title, detail } =
      error instanceof ProblemError ? error.problem : { type: '', title: 'It did not roll', detail: errorText(error) };
    if (live.state().recorder === 'closing' && /recorder-busy|job-running/.test(type)) return true;
    live.notify(
      'loss',
      title,
      `${setup.withGame?.process ?? 'The game'} has begun, and ${setup.name} does not roll: ${detail}`,
      null,
    );
  }
  return false;
}

function endTake(recorder: RecorderService): void {
  try {
    recorder.stop();
  } catch {
    // It has just ended by itself.
  }
}
