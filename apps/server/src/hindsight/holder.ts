import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { errorText } from '@mellow/core';
import { noteLetGo, startRecorder, type RecorderClient } from '@mellow/engine';
import type { EngineEvent, Held, Watching } from '@mellow/model';
import PQueue from 'p-queue';
import { orderWatch, type WatchOrder } from '../orders/heldOrder';
import type { TrialServices } from '../orders/orderTrial';
import type { AppLog } from '../program/appLog';
import type { Folders } from '../program/folders';
import type { LiveHub } from '../program/liveHub';
import { createKeeping, type Keeping } from './keeping';
import { createWatchdog, type Watchdog } from './watchdog';

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

/** What holds the last minutes of a setup while no take rolls: a recorder of its own, and all that is known of it. */
export interface Holder {
  readonly context: HindsightContext;
  readonly keeping: Keeping;
  readonly watchdog: Watchdog;
  /** One change after another. */
  inTurn<T>(step: () => Promise<T>): Promise<T>;
  /** The setup that somebody wants held; null: none. */
  wanted: string | null;
  /** Takes and measurements that want the machine for themselves. */
  resting: number;
  client: RecorderClient | null;
  /** What the recorder was told to hold; null where it holds nothing. */
  watched: WatchOrder | null;
  held: Held | null;
  state: Watching['state'];
  why: string | null;
  /** Beginnings in a row that came to nothing. */
  tries: number;
  beganMs: number;
  toldMs: number;
  /** Told when what was to end has ended. */
  closed: (() => void) | null;
}

export function createHolder(context: HindsightContext): Holder {
  const queue = new PQueue({ concurrency: 1 });
  const holder: Holder = {
    context,
    keeping: createKeeping(),
    watchdog: createWatchdog(
      context.hangMs,
      () => holder.watched !== null && holder.client !== null,
      () => {
        context.log.add('error', 'What holds the last minutes gave no sign and was ended.');
        holder.client?.kill();
      },
    ),
    inTurn: (step) => queue.add(step) as ReturnType<typeof step>,
    ...{ wanted: null, resting: 0, client: null, watched: null, held: null, state: 'beginning', why: null },
    ...{ tries: 0, beganMs: 0, toldMs: 0, closed: null },
  };
  return holder;
}

/** Tells everybody what is held. */
export function tell(holder: Holder): void {
  const { wanted, state, why, held, context } = holder;
  holder.toldMs = performance.now();
  context.live.setWatching(
    wanted === null ? null : { setupId: wanted, state, why, held: state === 'on' ? held : null },
  );
}

export function show(holder: Holder, state: Watching['state'], why: string | null = null): void {
  Object.assign(holder, { state, why });
  tell(holder);
}

/** Begins to hold what is wanted, unless something rests it or it is held already. @throws where it cannot, which is shown */
export async function begin(holder: Holder): Promise<void> {
  const { wanted, context, watchdog } = holder;
  if (wanted === null || holder.resting > 0 || holder.watched) return;
  const ledgerFolder = join(context.folders.data, 'hindsight');
  show(holder, 'beginning');
  try {
    rmSync(ledgerFolder, { recursive: true, force: true });
    const order = await orderWatch(context, wanted, ledgerFolder);
    holder.client ??= await started(holder);
    watchdog.sign();
    holder.beganMs = performance.now();
    holder.watched = order;
    holder.client.roll(order.order);
  } catch (error) {
    holder.watched = null;
    show(holder, 'failed', errorText(error));
    throw error;
  }
}

async function started(holder: Holder): Promise<RecorderClient> {
  const made = await startRecorder();
  made.onEvent((event) => onEvent(holder, made, event));
  made.onExit(({ code, signal }) => onExit(holder, made, signal ?? `code ${code}`));
  return made;
}

/** Begins anew after an end that nobody asked for, a few times. */
async function again(holder: Holder, reason: string | null): Promise<void> {
  if (performance.now() - holder.beganMs > steadyMs) holder.tries = 0;
  if (++holder.tries > mostTries)
    return show(holder, 'failed', reason ?? 'It ended several times in a row; the log has what it said.');
  // Where it cannot begin, that is shown.
  await holder
    .inTurn(() => begin(holder))
    .catch((error: unknown) => holder.context.log.add('warn', `Hindsight: ${errorText(error)}`));
}

function onEvent(holder: Holder, from: RecorderClient, event: EngineEvent): void {
  if (holder.client !== from) return;
  const { watched, context, keeping, watchdog } = holder;
  watchdog.sign();
  if (event.type === 'log' && event.level !== 'info') context.log.add(event.level, `Hindsight: ${event.text}`);
  if (event.type === 'live' && watched && event.live.takeId === watched.order.takeId) {
    holder.held = event.live.held;
    if (event.live.state === 'rolling' && holder.state === 'beginning') show(holder, 'on');
    else if (performance.now() - holder.toldMs >= tellEveryMs) tell(holder);
  }
  keeping.hear(event);
  if (event.type === 'closed' || event.type === 'refused') {
    const ended = event.type === 'refused' ? event.text : event.closing.endText;
    const asked = holder.closed !== null;
    holder.watched = null;
    holder.held = null;
    holder.closed?.();
    if (!asked && holder.wanted !== null) void again(holder, ended);
  }
}

function onExit(holder: Holder, from: RecorderClient, how: string): void {
  if (holder.client !== from) return;
  const { log, gather } = holder.context;
  const lost = holder.watched;
  holder.client = null;
  holder.watched = null;
  holder.held = null;
  holder.keeping.giveUp('What held it has ended.');
  holder.closed?.();
  if (!lost) return;
  log.add('warn', `What held the last minutes has ended (${how}).`);
  void holder
    .inTurn(() => gather(lost))
    .catch((error: unknown) => log.add('error', `What it held could not be brought together: ${errorText(error)}`))
    .then(() => (holder.wanted === null ? undefined : again(holder, null)));
}

/** Resolves when the machine is free. What was held is gone: nobody finds it again, however it ends. */
export async function end(holder: Holder): Promise<void> {
  const now = holder.client;
  if (!now || !holder.watched) return;
  const { hindsight } = holder.watched.order;
  const folder = hindsight?.where === 'drive' ? hindsight.folder : null;
  if (folder) noteLetGo(folder);
  let late: NodeJS.Timeout | undefined;
  await new Promise<void>((resolve) => {
    holder.closed = resolve;
    late = setTimeout(() => {
      holder.context.log.add('warn', 'What holds the last minutes did not end in time and was killed.');
      holder.watched = null;
      now.onExit(() => resolve());
      now.kill();
    }, stopPatienceMs);
    now.stop();
  });
  clearTimeout(late);
  holder.closed = null;
  holder.watched = null;
  holder.held = null;
  if (folder) rmSync(folder, { recursive: true, force: true });
}
