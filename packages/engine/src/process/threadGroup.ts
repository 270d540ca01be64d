import { Worker } from 'node:worker_threads';
import type { ThreadOrder } from '../shared/takeMemory';
import type { ThreadMessage } from '../shared/threadPort';

export type ThreadName = 'game' | 'picker' | 'size' | 'encode' | 'pack' | 'drive';

export interface ThreadReady {
  threadId: number | null;
  encoderThreadIds: number[];
}

export interface ThreadGroup {
  /** Resolves when every thread is ready; rejects with the reason of the first that failed. */
  ready: Promise<Map<ThreadName, ThreadReady>>;
  /** Resolves with the path that Drive ended with when all threads named here are done. */
  done: Promise<string>;
  stop(): Promise<void>;
}

/** Starts the threads of a take from the bundled files beside this one. */
export function startThreads(
  names: readonly ThreadName[],
  given: ThreadOrder,
  waitFor: readonly ThreadName[],
  onLog: (level: 'info' | 'warn' | 'error', text: string) => void,
  onFailed: (name: ThreadName, text: string) => void,
): ThreadGroup {
  const readies = new Map<ThreadName, ThreadReady>();
  const open = new Set(waitFor);
  let path = given.order.filePath;
  let resolveReady: (value: Map<ThreadName, ThreadReady>) => void = () => {};
  let rejectReady: (reason: Error) => void = () => {};
  let resolveDone: (value: string) => void = () => {};
  const ready = new Promise<Map<ThreadName, ThreadReady>>(
    (resolve, reject) => ([resolveReady, rejectReady] = [resolve, reject]),
  );
  const done = new Promise<string>((resolve) => (resolveDone = resolve));
  ready.catch(() => {});
  const failed = (name: ThreadName, text: string): void => {
    onFailed(name, text);
    rejectReady(new Error(`${name}: ${text}`));
    open.delete(name);
    if (!open.size) resolveDone(path);
  };
  const workers = names.map((name) => {
    const worker = new Worker(new URL(`./${name}.mjs`, import.meta.url), { workerData: given });
    worker.on('message', (message: ThreadMessage) => {
      if (message.type === 'ready') {
        readies.set(name, { threadId: message.threadId, encoderThreadIds: message.encoderThreadIds ?? [] });
        if (readies.size === names.length) resolveReady(readies);
      } else if (message.type === 'log') onLog(message.level, message.text);
      else if (message.type === 'failed') failed(name, message.text);
      else {
        if (message.path !== undefined) path = message.path;
        open.delete(name);
        if (!open.size) resolveDone(path);
      }
    });
    worker.on('error', (error) => failed(name, error.stack ?? error.message));
    return worker;
  });
  return {
    ready,
    done,
    stop: async () => void (await Promise.all(workers.map((worker) => worker.terminate()))),
  };
}
