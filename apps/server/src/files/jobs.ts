import { nanoid } from 'nanoid';
import { runMediaJob, type JournalStep } from '@mellow/engine';
import type { MediaJobInput, RunningJob } from '@mellow/model';
import { problem } from '../errors/problem';
import type { AppLog } from '../program/appLog';
import type { FileJournal, Journals } from './journals';
import type { LiveHub } from '../program/liveHub';

export interface JobRequest {
  title: string;
  takeId?: string;
  job: MediaJobInput;
  stallMs?: number;
  /** Where the job's own lines go besides the application's log. */
  logFolder?: string;
  /** The journal of the sequence it belongs to; one of its own otherwise. */
  journal?: FileJournal;
  /**
   * Stores what came of it. Its journal goes only afterwards: whatever ends in between, the next start knows what lies where.
   * Where it throws, nothing of it may be stored.
   */
  store?: (result: unknown) => Promise<void>;
  /** Told what it has done with files where it, or its storing, failed; what is not finished of it is undone afterwards. */
  onLeft?: (steps: JournalStep[]) => Promise<void>;
  /** It is given up, and can be done again later, when a take wants to begin. */
  yields?: boolean;
}

export interface JobService {
  /** Runs one job in a process of its own. @throws with its reason */
  run(request: JobRequest): Promise<unknown>;
  /** Runs several jobs as one: progress is counted over all of them. */
  series<T>(
    title: string,
    count: number,
    work: (run: JobService['run'], signal: AbortSignal) => Promise<T>,
  ): Promise<T>;
  list(): RunningJob[];
  /** Ends a job; what it was making is thrown away. */
  cancel(id: string): void;
  cancelAll(): void;
  /** Ends the jobs that give way to a take. @returns whether there were any */
  giveWay(): boolean;
}

/** Why a job that gave way was ended. */
class GaveWayError extends Error {
  constructor() {
    super('It gave way to a take.');
  }
}
/** It was ended for a take that wanted to begin, and can be done again. */
export const gaveWay = (error: unknown): boolean => error instanceof GaveWayError;

/** Progress is told twice a second at most. */
const tellEveryMs = 500;

/** Work on files and encoders, each piece in a process of its own, shown while it runs. */
export function createJobService(live: LiveHub, log: AppLog, journals: Journals): JobService {
  const running = new Map<string, { job: RunningJob; controller: AbortController; yields: boolean }>();
  const kept = { log, journals };
  let toldMs = 0;
  const tell = (now: boolean): void => {
    if (!now && performance.now() - toldMs < tellEveryMs) return;
    toldMs = performance.now();
    live.setJobs([...running.values()].map(({ job }) => job));
  };
  async function shown<T>(
    title: string,
    takeId: string | null,
    yields: boolean,
    work: (entry: RunningJob, signal: AbortSignal) => Promise<T>,
  ): Promise<T> {
    const job: RunningJob = { id: nanoid(8), title, takeId, done: 0, of: null };
    const controller = new AbortController();
    running.set(job.id, { job, controller, yields });
    tell(true);
    try {
      return await work(job, controller.signal);
    } finally {
      running.delete(job.id);
      tell(true);
    }
  }
  return {
    run: (request) =>
      shown(request.title, request.takeId ?? null, request.yields ?? false, (entry, signal) =>
        start(kept, request, signal, (done, of) => {
          Object.assign(entry, { done, of });
          tell(false);
        }),
      ),
    series: (title, count, work) =>
      shown(title, null, false, (entry, signal) => {
        entry.of = count;
        const run = async (request: JobRequest): Promise<unknown> => {
          try {
            return await start(kept, request, signal, () => {});
          } finally {
            entry.done++;
            tell(true);
          }
        };
        return work(run, signal);
      }),
    list: () => [...running.values()].map(({ job }) => job),
    cancel(id) {
      const found = running.get(id);
      if (!found) throw problem('not-found', 'That work is not running any more, so nothing was ended.');
      found.controller.abort(new Error('It was cancelled.'));
    },
    giveWay() {
      const yielding = [...running.values()].filter(({ yields }) => yields);
      for (const { controller } of yielding) controller.abort(new GaveWayError());
      return yielding.length > 0;
    },
    cancelAll() {
      for (const { controller } of running.values()) controller.abort(new Error('It was cancelled.'));
    },
  };
}

async function start(
  { log, journals }: { log: AppLog; journals: Journals },
  request: JobRequest,
  signal: AbortSignal,
  onProgress: (done: number, of: number | null) => void,
): Promise<unknown> {
  const journal = request.journal ?? journals.open();
  try {
    const result = await runMediaJob(request.job, {
      signal,
      journal: journal.path,
      ...(request.stallMs === undefined ? {} : { stallMs: request.stallMs }),
      onProgress,
      onLog: (level, text) => log.add(level, text, request.logFolder),
    });
    await request.store?.(result);
    journal.done();
    return result;
  } catch (error) {
    // Where that fails, too, the journal stays for the next start.
    await request.onLeft?.(journal.steps());
    journal.undo();
    throw error;
  }
}
