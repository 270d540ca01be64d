import { startRecorder, type RecorderClient } from '@mellow/engine';
import { errorText } from '@mellow/core';
import type { EngineEvent } from '@mellow/model';
import { problem } from '../errors/problem';

export interface RecorderProcess {
  /** The recorder that is there, started where there is none. @throws a problem where it cannot be started */
  ready(): Promise<RecorderClient>;
  now(): RecorderClient | null;
  /** Lets one that rolls nothing end; the next `ready` starts a fresh one. What a process keeps of each take never adds up so. */
  renew(): void;
  /** Ends it, and one that is just starting; never waits longer than a moment. @param rolling it closes its take alone */
  leave(rolling: boolean): Promise<void>;
}

export interface RecorderListener {
  onEvent(event: EngineEvent): void;
  onGone(how: string): void;
}

const quitPatienceMs = 3000;

/** One recorder is kept started ahead, so that rolling begins at once. Events of one that was replaced are not heard. */
export function createRecorderProcess(listener: RecorderListener): RecorderProcess {
  let client: RecorderClient | null = null;
  let starting: Promise<RecorderClient> | null = null;
  let leaving = false;

  async function start(): Promise<RecorderClient> {
    try {
      const started = await startRecorder();
      client = started;
      started.onEvent((event) => void (client === started && listener.onEvent(event)));
      started.onExit(({ code, signal }) => {
        // One that was let go is nobody's loss.
        if (client !== started) return;
        client = null;
        listener.onGone(signal ?? `code ${code}`);
      });
      if (leaving) started.quit();
      return started;
    } catch (error) {
      const why = errorText(error);
      throw problem('engine-failed', `The recorder could not be started: ${why}`);
    } finally {
      starting = null;
    }
  }

  return {
    now: () => client,
    ready() {
      if (client) return Promise.resolve(client);
      starting ??= start();
      return starting;
    },
    renew() {
      const last = client;
      client = null;
      last?.quit();
    },
    async leave(rolling) {
      leaving = true;
      const last = client ?? (await (starting ?? Promise.resolve(null)).catch(() => null));
      if (!last) return;
      const gone = new Promise<void>((resolve) => void last.onExit(() => resolve()));
      last.quit();
      await Promise.race([gone, new Promise<void>((resolve) => setTimeout(resolve, quitPatienceMs))]);
      if (!rolling) last.kill();
    },
  };
}
