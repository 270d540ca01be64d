import { parentPort, workerData } from 'node:worker_threads';
import type { Kept, PartFile } from '@mellow/model';
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
  | { type: 'failed'; text: string }
  | { type: 'done'; path?: string };

export const tell = (message: ThreadMessage): void => parentPort?.postMessage(message);

/** The operating system's number of this thread; null where it is not told. */
export const ownThreadId = (): number | null => systemFacts.ownThreadId();

/** Runs a thread's work; an exception stops the take and is told in words. */
export function runThread(work: (given: ThreadOrder) => void): void {
  try {
    work(workerData as ThreadOrder);
  } catch (error) {
    tell({ type: 'failed', text: error instanceof Error ? (error.stack ?? error.message) : String(error) });
  }
}
