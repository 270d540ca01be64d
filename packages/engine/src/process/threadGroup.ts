import { Worker } from 'node:worker_threads';
import type { Kept, KeepOrder, PartFile } from '@mellow/model';
import type { ThreadOrder } from '../shared/takeMemory';
import type { ThreadMessage } from '../shared/threadPort';
import { fileOfThread, indexOfThread, isGuest, type ThreadName } from '../shared/threadNames';

const endingPatienceMs = 5000;
/** A guest that has failed is begun anew after so long, each time twice as long as before. */
const guestAgainMs = 2000;
const guestAgainAtMostMs = 32_000;
/** A take begins without a guest that is not ready by then. */
const guestReadyMs = 12_000;

export interface ThreadReady {
  threadId: number | null;
  encoderThreadIds: number[];
}

export interface ThreadGroup {
  /** Resolves when every thread is ready, or a guest has failed or is late; rejects with the reason of the first that failed. */
  ready: Promise<Map<ThreadName, ThreadReady>>;
  /** Resolves with the path that Drive ended with when all threads that the take is made by are done or have failed. */
  done: Promise<string>;
  /** Resolves when the guests that write files are done, too. */
  guestsDone: Promise<void>;
  /** @returns false where nothing is held now */
  keep(keep: KeepOrder): boolean;
  /** Waits until all threads, which were told to end before, have ended; those that do not are ended. */
  stop(): Promise<void>;
}

export interface ThreadEvents {
  log(level: 'info' | 'warn' | 'error', text: string): void;
  /** One that the take is made by has failed. */
  failed(name: ThreadName, text: string): void;
  /** One that the take is made by cannot go on; what was recorded is closed. */
  broken(text: string): void;
  /** A guest is gone, and is begun anew; null: it is there again. */
  guest(name: ThreadName, why: string | null): void;
  /** What a thread cannot do for now; null: it can again. */
  trouble(name: ThreadName, text: string | null): void;
  kept(kept: Kept): void;
  /** Drive has begun another file. */
  part(part: PartFile): void;
  /** What was written of a stripe lies elsewhere: its drive is gone. */
  stripe(stripe: number, path: string): void;
}

/** A thread of the take, with the worker that runs it now. */
interface Member {
  name: ThreadName;
  worker: Worker;
  exited: Promise<void>;
  /** It has said that it is done, or has failed. */
  over: boolean;
  failures: number;
}

/**
 * Starts the threads of a take from the bundled files beside this one.
 * @param waitFor those of them that close files
 * @param neededToBegin guests without which nothing is begun
 */
export function startThreads(
  names: readonly ThreadName[],
  given: Omit<ThreadOrder, 'index'>,
  waitFor: readonly ThreadName[],
  neededToBegin: readonly ThreadName[],
  events: ThreadEvents,
): ThreadGroup {
  const readies = new Map<ThreadName, ThreadReady>();
  const awaited = new Set(names);
  const open = { makers: new Set(waitFor.filter((name) => !isGuest(name))), guests: new Set(waitFor.filter(isGuest)) };
  const members = new Map<ThreadName, Member>();
  const again = new Set<NodeJS.Timeout>();
  let path = given.order.filePath;
  let began = false;
  let stopping = false;
  const ready = deferred<Map<ThreadName, ThreadReady>>();
  const done = deferred<string>();
  const guestsDone = deferred<void>();
  ready.promise.catch(() => {});
  if (!open.guests.size) guestsDone.resolve();

  const settled = (name: ThreadName): void => {
    awaited.delete(name);
    if (awaited.size || began) return;
    began = true;
    ready.resolve(readies);
  };
  const ended = (name: ThreadName): void => {
    if (open.makers.delete(name) && !open.makers.size) done.resolve(path);
    if (open.guests.delete(name) && !open.guests.size) guestsDone.resolve();
  };
  const failed = (member: Member, text: string): void => {
    if (member.over) return;
    member.over = true;
    const { name } = member;
    const first = text.split('\n')[0] ?? '';
    if (!isGuest(name) || (!began && neededToBegin.includes(name))) {
      events.failed(name, text);
      ready.reject(new Error(`${name}: ${first}`));
      return ended(name);
    }
    events.log('error', `The ${name} thread failed: ${text}`);
    events.guest(name, first);
    settled(name);
    if (stopping || open.makers.size === 0) return ended(name);
    member.failures++;
    const timer = setTimeout(
      () => {
        again.delete(timer);
        if (stopping || open.makers.size === 0) ended(name);
        else start(name, member.failures);
      },
      Math.min(guestAgainAtMostMs, guestAgainMs * 2 ** (member.failures - 1)),
    );
    again.add(timer);
  };
  const hear = (member: Member, message: ThreadMessage): void => {
    const { name } = member;
    switch (message.type) {
      case 'ready':
        readies.set(name, { threadId: message.threadId, encoderThreadIds: message.encoderThreadIds ?? [] });
        if (member.failures) events.guest(name, null);
        return settled(name);
      case 'log':
        return events.log(message.level, message.text);
      case 'kept':
        return events.kept(message.kept);
      case 'part':
        return events.part(message.part);
      case 'stripe':
        return events.stripe(message.stripe, message.path);
      case 'trouble':
        return events.trouble(name, message.text);
      case 'broken':
        return events.broken(message.text);
      case 'failed':
        return failed(member, message.text);
      case 'done':
        member.over = true;
        path = message.path ?? path;
        return ended(name);
    }
  };
  function start(name: ThreadName, failures: number): void {
    const worker = new Worker(new URL(`./${fileOfThread(name)}.mjs`, import.meta.url), {
      workerData: { ...given, index: indexOfThread(name) },
    });
    const exited = new Promise<void>((resolve) => worker.once('exit', () => resolve()));
    const member: Member = { name, worker, exited, over: false, failures };
    members.set(name, member);
    worker.on('message', (message: ThreadMessage) => hear(member, message));
    worker.on('error', (error) => failed(member, error.message));
    worker.once('exit', () => failed(member, 'It ended without a word.'));
  }
  for (const name of names) start(name, 0);
  const late = setTimeout(() => {
    const waiting = [...awaited];
    if (!waiting.every((name) => isGuest(name) && !neededToBegin.includes(name))) return;
    for (const name of waiting) {
      events.guest(name, `It was not ready within ${guestReadyMs / 1000} s.`);
      settled(name);
    }
  }, guestReadyMs);

  return {
    ready: ready.promise,
    done: done.promise,
    guestsDone: guestsDone.promise,
    keep(keep) {
      const holder = members.get('keep');
      if (!holder || holder.over) return false;
      holder.worker.postMessage(keep);
      return true;
    },
    async stop() {
      stopping = true;
      clearTimeout(late);
      for (const timer of again) clearTimeout(timer);
      // A thread that is ended from outside while it loads or is inside the media library takes the whole process along:
      // all have been told to end, and are given the time to.
      let gaveUp: NodeJS.Timeout | undefined;
      const patience = new Promise<void>((resolve) => (gaveUp = setTimeout(resolve, endingPatienceMs)));
      const all = [...members.values()];
      await Promise.race([Promise.all(all.map(({ exited }) => exited)), patience]);
      clearTimeout(gaveUp);
      await Promise.all(all.map(({ worker }) => worker.terminate()));
    },
  };
}

function deferred<T>() {
  let resolve: (value: T) => void = () => {};
  let reject: (reason: Error) => void = () => {};
  const promise = new Promise<T>((yes, no) => ([resolve, reject] = [yes, no]));
  return { promise, resolve, reject };
}
