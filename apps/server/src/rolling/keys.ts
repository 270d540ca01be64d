import PQueue from 'p-queue';
import { bindingsOf, startBindings, errorText } from '@mellow/core';
import { startKeyListener, type KeyListener } from '@mellow/engine';
import { keyActions, keySettingsSchema, type KeySettings, type KeyState } from '@mellow/model';
import type { Store } from '../db/openStore';
import { readSetting, writeSetting } from '../db/setting';
import { ProblemError } from '../errors/problem';
import type { RecorderService } from '../recorder/recorderService';
import type { AppLog } from '../program/appLog';
import type { KeepNow } from './keepNow';
import type { LiveHub } from '../program/liveHub';
import { createKeyActs } from './keyActs';
import type { MarkService } from './marks';
import type { TakeService } from '../takes/takes';

/** Keys heard whichever program has the focus: off until somebody says yes. */
export interface KeyService {
  state(): Promise<KeyState>;
  /** Stores what is wanted, and begins or ends to listen. */
  set(settings: KeySettings): Promise<KeyState>;
  /** Listens again where that was wanted before. */
  begin(): Promise<void>;
  listenerPid(): number | null;
  close(): void;
}

export interface KeyServices {
  store: Store;
  recorder: RecorderService;
  marks: MarkService;
  takes: TakeService;
  keepNow: KeepNow;
  live: LiveHub;
  log: AppLog;
}

const row = 'keys';
const againMs = 2000;
const startSettings: KeySettings = { on: false, setupId: null, common: startBindings, bySetup: {} };

export function createKeyService(services: KeyServices): KeyService {
  const { store, live, log } = services;
  let listener: KeyListener | null = null;
  let why: string | null = null;
  let again: NodeJS.Timeout | null = null;
  let closed = false;
  /** One change after another: who switches off while it begins to listen means it. */
  const queue = new PQueue({ concurrency: 1 });

  const told = (error: unknown): void => tellRefusal(services, error);
  const acts = createKeyActs({ ...services, told, setupId: async () => (await stored()).setupId });

  async function stored(): Promise<KeySettings> {
    const parsed = keySettingsSchema.safeParse(JSON.parse((await readSetting(store, row)) ?? 'null'));
    return parsed.data ?? startSettings;
  }

  function tellListener(settings: KeySettings): void {
    const bindings = bindingsOf(settings, settings.setupId);
    listener?.choose(
      keyActions.flatMap((action) => {
        const binding = bindings[action];
        return binding ? [{ action, binding }] : [];
      }),
    );
  }

  async function listen(settings: KeySettings): Promise<void> {
    if (!listener) {
      const started = await startKeyListener();
      if (closed) return started.close();
      listener = started;
      started.onKey((action, down) => void acts.act(action, down).catch(told));
      started.onExit(() => {
        if (listener !== started) return;
        listener = null;
        if (closed) return;
        log.add('warn', 'The process that hears keys has ended; it is started again.');
        again = setTimeout(() => void begin().catch(() => {}), againMs);
        again.unref();
      });
    }
    tellListener(settings);
  }

  function end(): void {
    const last = listener;
    listener = null;
    last?.close();
  }

  function begin(): Promise<void> {
    return queue.add(beginNow) as Promise<void>;
  }

  async function beginNow(): Promise<void> {
    const settings = await stored();
    if (!settings.on || closed) return end();
    try {
      await listen(settings);
      why = null;
    } catch (error) {
      why = errorText(error);
      log.add('warn', `Keys are not heard: ${why}`);
    }
  }

  const state = async (): Promise<KeyState> => ({ settings: await stored(), listening: listener !== null, why });

  return {
    state,
    begin,
    listenerPid: () => listener?.pid ?? null,
    async set(settings) {
      await queue.add(async () => {
        await writeSetting(store, row, JSON.stringify(settings));
        why = null;
        await beginNow();
      });
      live.dataChanged();
      return state();
    },
    close() {
      closed = true;
      if (again) clearTimeout(again);
      acts.close();
      end();
    },
  };
}

/** What a key asks for may be refused; nobody looks at the page then, so it is kept to be read. */
function tellRefusal({ live, log }: Pick<KeyServices, 'live' | 'log'>, error: unknown): void {
  if (error instanceof ProblemError) live.notify('loss', error.problem.title, error.problem.detail, null);
  else log.add('error', `By key: ${errorText(error)}`);
}
