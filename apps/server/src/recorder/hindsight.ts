import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { noteLetGo, startRecorder, type RecorderClient } from '@mellow/engine';
import { errorText } from '@mellow/core';
import type { EngineEvent, Held, KeepOrder, Kept, Watching } from '@mellow/model';
import { problem } from '../http/problem';
import type { AppLog } from '../services/appLog';
import type { Folders } from '../services/folders';
import type { LiveHub } from '../services/liveHub';
import { createKeeping } from './keeping';
import { orderWatch, type WatchOrder } from './heldOrder';
import type { TrialServices } from './orderTrial';
import { createWatchdog } from './watchdog';

/** Holds the last minutes of a setup's source while no take rolls, in a recorder of its own. */
export interface HindsightService {
  /** Begins to hold; whatever another setup held is let go. @throws a problem in words */
  watch(setupId: string): Promise<void>;
  unwatch(): Promise<void>;
  /** Lets the machine go for a take or a measurement; what was held is gone. */
  rest(): Promise<void>;
  /** Begins anew after a rest, where it is wanted. */
  resume(): void;
  /** What is held now; null where nothing is. */
  now(): WatchOrder | null;
  /** Writes part of it into a reserved file. */
  keep(keep: KeepOrder): Promise<Kept>;
  /** Process number of what holds; null where nothing does. */
  enginePid(): number | null;
  shutDown(): Promise<void>;
}

export type HindsightContext = TrialServices & {
  folders: Folders;
  log: AppLog;
  live: LiveHub;
  hangMs: number;
  /** Makes a clip of what a recorder left on the drive when it died. */
  gather: (watched: WatchOrder) => Promise<void>;
};

const tellEveryMs = 1000;
const stopPatienceMs = 10_000;
/** A recorder that died is replaced so often in a row; one that held for a minute is a new beginning. */
const mostTries = 3;
const steadyMs = 60_000;

export function createHindsightService(context: HindsightContext): HindsightService {
  const { live, log } = context;
  const ledgerFolder = join(context.folders.data, 'hindsight');
  let wanted: string | null = null;
  let resting = 0;
  let client: RecorderClient | null = null;
  let watched: WatchOrder | null = null;
  let held: Held | null = null;
  let state: Watching['state'] = 'beginning';
  let why: string | null = null;
  let tries = 0;
  let beganMs = 0;
  let toldMs = 0;
  let closed: (() => void) | null = null;
  const keeping = createKeeping();
  /** One change after another. */
  let last: Promise<unknown> = Promise.resolve();
  const inTurn = <T>(step: () => Promise<T>): Promise<T> => {
    const next = last.then(step, step);
    last = next.catch(() => {});
    return next;
  };
  const watchdog = createWatchdog(
    context.hangMs,
    () => watched !== null && client !== null,
    () => {
      log.add('error', 'What holds the last minutes gave no sign and was ended.');
      client?.kill();
    },
  );

  function show(now: Watching['state'], reason: string | null = null): void {
    state = now;
    why = reason;
    tell();
  }
  function tell(): void {
    toldMs = performance.now();
    live.setWatching(wanted === null ? null : { setupId: wanted, state, why, held: state === 'on' ? held : null });
  }

  function onEvent(from: RecorderClient, event: EngineEvent): void {
    if (client !== from) return;
    watchdog.sign();
    if (event.type === 'log' && event.level !== 'info') log.add(event.level, `Hindsight: ${event.text}`);
    if (event.type === 'live' && watched && event.live.takeId === watched.order.takeId) {
      held = event.live.held;
      if (event.live.state === 'rolling' && state === 'beginning') show('on');
      else if (performance.now() - toldMs >= tellEveryMs) tell();
    }
    keeping.hear(event);
    if (event.type === 'closed' || event.type === 'refused') {
      const ended = event.type === 'refused' ? event.text : event.closing.endText;
      const asked = closed !== null;
      watched = null;
      held = null;
      closed?.();
      if (!asked && wanted !== null) void again(ended);
    }
  }

  function onExit(from: RecorderClient, how: string): void {
    if (client !== from) return;
    client = null;
    const lost = watched;
    watched = null;
    held = null;
    keeping.giveUp('What held it has ended.');
    closed?.();
    if (!lost) return;
    log.add('warn', `What held the last minutes has ended (${how}).`);
    void inTurn(() => context.gather(lost)).then(
      () => (wanted === null ? undefined : again(null)),
      (error: unknown) => {
        log.add('error', `What it held could not be brought together: ${errorText(error)}`);
        if (wanted !== null) return again(null);
      },
    );
  }

  /** Begins anew after an end that nobody asked for, a few times. */
  async function again(reason: string | null): Promise<void> {
    if (performance.now() - beganMs > steadyMs) tries = 0;
    if (++tries > mostTries)
      return show('failed', reason ?? 'It ended several times in a row; the log has what it said.');
    // Where it cannot begin, that is shown.
    await inTurn(begin).catch((error: unknown) => log.add('warn', `Hindsight: ${errorText(error)}`));
  }

  async function begin(): Promise<void> {
    if (wanted === null || resting > 0 || watched) return;
    show('beginning');
    try {
      rmSync(ledgerFolder, { recursive: true, force: true });
      const order = await orderWatch(context, wanted, ledgerFolder);
      client ??= await started();
      watchdog.sign();
      beganMs = performance.now();
      watched = order;
      client.roll(order.order);
    } catch (error) {
      watched = null;
      show('failed', errorText(error));
      throw error;
    }
  }

  async function started(): Promise<RecorderClient> {
    const made = await startRecorder();
    made.onEvent((event) => onEvent(made, event));
    made.onExit(({ code, signal }) => onExit(made, signal ?? `code ${code}`));
    return made;
  }

  /** Resolves when the machine is free. What was held is gone: nobody finds it again, however it ends. */
  async function end(): Promise<void> {
    const now = client;
    if (!now || !watched) return;
    const { hindsight } = watched.order;
    const folder = hindsight?.where === 'drive' ? hindsight.folder : null;
    if (folder) noteLetGo(folder);
    let late: NodeJS.Timeout | undefined;
    await new Promise<void>((resolve) => {
      closed = resolve;
      late = setTimeout(() => {
        log.add('warn', 'What holds the last minutes did not end in time and was killed.');
        watched = null;
        now.onExit(() => resolve());
        now.kill();
      }, stopPatienceMs);
      now.stop();
    });
    clearTimeout(late);
    closed = null;
    watched = null;
    held = null;
    if (folder) rmSync(folder, { recursive: true, force: true });
  }

  return {
    async watch(setupId) {
      tries = 0;
      await inTurn(async () => {
        await end();
        wanted = setupId;
        if (live.state().recorder !== 'idle') return show('resting');
        try {
          await begin();
        } catch (error) {
          wanted = null;
          tell();
          throw error;
        }
      });
    },
    unwatch: () =>
      inTurn(async () => {
        wanted = null;
        await end();
        const idle = client;
        client = null;
        idle?.quit();
        tell();
      }),
    async rest() {
      resting++;
      await inTurn(async () => {
        await end();
        if (wanted !== null) show('resting');
      });
    },
    resume() {
      resting = Math.max(0, resting - 1);
      tries = 0;
      if (wanted !== null && resting === 0) void inTurn(begin).catch(() => {});
    },
    now: () => (state === 'on' ? watched : null),
    keep(keep) {
      const from = client;
      if (!from || !watched) throw problem('recorder-idle', 'Nothing is held now. Nothing was kept.');
      return keeping.asked(keep.id, () => from.keep(keep));
    },
    enginePid: () => client?.pid ?? null,
    async shutDown() {
      wanted = null;
      watchdog.stop();
      await inTurn(end);
      client?.quit();
    },
  };
}
