import { Worker } from 'node:worker_threads';
import type { Kept, KeepOrder, PartFile } from '@mellow/model';
import type { ThreadOrder } from '../shared/takeMemory';
import type { ThreadMessage } from '../shared/threadPort';

const helperNames = ['helper-1', 'helper-2', 'helper-3', 'helper-4'] as const;
/** Names of the practice game's helpers. */
export const helpersNamed = (count: number): readonly ThreadName[] => helperNames.slice(0, count);

const stripeNames = [
  'stripe-1',
  'stripe-2',
  'stripe-3',
  'stripe-4',
  'stripe-5',
  'stripe-6',
  'stripe-7',
  'stripe-8',
  'stripe-9',
] as const;
/** Names of the writers of a striped take. */
export const stripesNamed = (count: number): readonly ThreadName[] => stripeNames.slice(0, count);

export type ThreadName =
  | 'game'
  | 'grab'
  | 'play'
  | 'camera'
  | 'sound'
  | 'hear'
  | 'picker'
  | 'size'
  | 'encode'
  | 'pack'
  | 'drive'
  | 'keep'
  | (typeof helperNames)[number]
  | (typeof stripeNames)[number];

const endingPatienceMs = 5000;

/** The bundled file of a thread; those of a kind share one. */
const fileOf = (name: ThreadName): string => name.replace(/-\d$/, '');
const indexOf = (name: ThreadName): number => Number(/-(\d)$/.exec(name)?.[1] ?? 1) - 1;

export interface ThreadReady {
  threadId: number | null;
  encoderThreadIds: number[];
}

export interface ThreadGroup {
  /** Resolves when every thread is ready; rejects with the reason of the first that failed. */
  ready: Promise<Map<ThreadName, ThreadReady>>;
  /** Resolves with the path that Drive ended with when all threads named here are done or have failed. */
  done: Promise<string>;
  /** @returns false where nothing is held */
  keep(keep: KeepOrder): boolean;
  /** Waits until all threads, which were told to end before, have ended; those that do not are ended. */
  stop(): Promise<void>;
}

export interface ThreadEvents {
  log(level: 'info' | 'warn' | 'error', text: string): void;
  failed(name: ThreadName, text: string): void;
  kept(kept: Kept): void;
  /** Drive has begun another file. */
  part(part: PartFile): void;
  /** What was written of a stripe lies elsewhere: its drive is gone. */
  stripe(stripe: number, path: string): void;
}

/** Starts the threads of a take from the bundled files beside this one. */
export function startThreads(
  names: readonly ThreadName[],
  given: Omit<ThreadOrder, 'index'>,
  waitFor: readonly ThreadName[],
  events: ThreadEvents,
): ThreadGroup {
  const readies = new Map<ThreadName, ThreadReady>();
  const open = new Set(waitFor);
  let path = given.order.filePath;
  const ready = deferred<Map<ThreadName, ThreadReady>>();
  const done = deferred<string>();
  ready.promise.catch(() => {});
  const ended = (name: ThreadName): void => {
    open.delete(name);
    if (!open.size) done.resolve(path);
  };
  const failed = (name: ThreadName, text: string): void => {
    events.failed(name, text);
    ready.reject(new Error(`${name}: ${text.split('\n')[0]}`));
    ended(name);
  };
  const hear = (name: ThreadName, message: ThreadMessage): void => {
    switch (message.type) {
      case 'ready':
        readies.set(name, { threadId: message.threadId, encoderThreadIds: message.encoderThreadIds ?? [] });
        if (readies.size === names.length) ready.resolve(readies);
        return;
      case 'log':
        return events.log(message.level, message.text);
      case 'kept':
        return events.kept(message.kept);
      case 'part':
        return events.part(message.part);
      case 'stripe':
        return events.stripe(message.stripe, message.path);
      case 'failed':
        return failed(name, message.text);
      case 'done':
        path = message.path ?? path;
        return ended(name);
    }
  };
  const workers = names.map((name) => {
    const worker = new Worker(new URL(`./${fileOf(name)}.mjs`, import.meta.url), {
      workerData: { ...given, index: indexOf(name) },
    });
    worker.on('message', (message: ThreadMessage) => hear(name, message));
    worker.on('error', (error) => failed(name, error.message));
    return { name, worker, exited: new Promise<void>((resolve) => worker.once('exit', () => resolve())) };
  });
  return {
    ready: ready.promise,
    done: done.promise,
    keep(keep) {
      const holder = workers.find(({ name }) => name === 'keep');
      if (!holder || !open.has('keep')) return false;
      holder.worker.postMessage(keep);
      return true;
    },
    async stop() {
      // A thread that is ended from outside while it loads or is inside the media library takes the whole process along:
      // all have been told to end, and are given the time to.
      let gaveUp: NodeJS.Timeout | undefined;
      const patience = new Promise<void>((resolve) => (gaveUp = setTimeout(resolve, endingPatienceMs)));
      await Promise.race([Promise.all(workers.map(({ exited }) => exited)), patience]);
      clearTimeout(gaveUp);
      await Promise.all(workers.map(({ worker }) => worker.terminate()));
    },
  };
}

function deferred<T>() {
  let resolve: (value: T) => void = () => {};
  let reject: (reason: Error) => void = () => {};
  const promise = new Promise<T>((yes, no) => ([resolve, reject] = [yes, no]));
  return { promise, resolve, reject };
}
