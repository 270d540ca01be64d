import { parentPort, workerData } from 'node:worker_threads';
import type { Kept, PartFile } from '@mellow/model';
import { errorText } from '@mellow/core';
import { createDisposer, type Owns } from './disposer';
import { systemFacts } from '../system/systemFacts';
import type { ThreadOrder } from './takeMemory';

/** What a thread tells the engine's main thread. */
export type ThreadMessage =
  | { type: 'ready'; threadId: number | null; encoderThreadIds?: number[] }
  | { type: 'log'; level: 'info' | 'warn' | 'error'; text: string }
  | { type: 'kept'; kept: Kept }
  | { type: 'part'; part: PartFile }
  /** What a stripe's open file held was kept elsewhere. */
  | { type: 'stripe'; stripe: number; path: string }
  /** What a guest of the take cannot do for now; null: it can again. */
  | { type: 'trouble'; text: string | null }
  /** The take has to end, but this thread still does what is left of its work: the container is closed. */
  | { type: 'broken'; text: string }
  | { type: 'failed'; text: string }
  | { type: 'done'; path?: string };

export const tell = (message: ThreadMessage): void => parentPort?.postMessage(message);

/** The operating system's number of this thread; null where it is not told. */
export const ownThreadId = (): number | null => systemFacts.ownThreadId();

/**
 * Runs a thread's work; an exception is told in words, after what the thread owned was given back.
 * @param work what it `owns` is given back when it returns or throws
 */
export function runThread(work: (given: ThreadOrder, owns: Owns) => void): void {
  const { owns, dispose } = createDisposer((error) =>
    tell({ type: 'log', level: 'warn', text: `Something could not be given back: ${errorText(error)}` }),
  );
  let failed: string | null = null;
  try {
    work(workerData as ThreadOrder, owns);
  } catch (error) {
    failed = error instanceof Error ? (error.stack ?? error.message) : String(error);
  }
  dispose();
  if (failed !== null) tell({ type: 'failed', text: failed });
}
