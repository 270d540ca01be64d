import { capitalised, errorText, takeName } from '@mellow/core';
import { endedStates, type Take } from '@mellow/model';
import type { AppLog } from '../program/appLog';
import { gaveWay } from '../files/jobs';
import type { LiveHub } from '../program/liveHub';
import type { TakeService } from '../takes/takes';
import type { AfterTake } from './afterTake';
import type { CurrentTake } from './currentTake';

/** Takes whose end is still to be looked after: their reading gave way, another take came first, or nothing could be stored. */
export interface UnfinishedTakes {
  /** Left until nothing rolls. */
  leave(now: CurrentTake, endText: string): Promise<void>;
  /** Why a take could not be read or rescued stands with it; where even that cannot be stored, it is tried again. */
  failed(now: CurrentTake, error: unknown): Promise<void>;
  /** Nothing is taken up as long as somebody decides whether another take begins. */
  while(deciding: Promise<unknown>): void;
  close(): void;
}

export interface UnfinishedContext {
  takes: Pick<TakeService, 'get' | 'update'>;
  live: Pick<LiveHub, 'notify'>;
  log: AppLog;
  after: Pick<AfterTake, 'storeFailure'>;
  /** Nothing rolls, nothing is done to a take, and the application does not end. */
  idle(): boolean;
  /** Brings a take to its end. @throws where that cannot begin now */
  recover(take: Take, before: CurrentTake): Promise<void>;
}

/** What is left to be done is looked at so often. */
const lookEveryMs = 3000;

export function createUnfinishedTakes(context: UnfinishedContext): UnfinishedTakes {
  const { takes, live, log, after } = context;
  const left = new Map<string, CurrentTake>();
  let deciding = 0;

  async function takeUp(): Promise<void> {
    for (const [id, before] of [...left]) {
      if (deciding > 0 || !context.idle()) return;
      const take = await takes.get(id).catch(() => null);
      if (deciding > 0 || !context.idle()) return;
      left.delete(id);
      // Somebody may have looked for it again, or deleted it.
      if (!take || (endedStates.includes(take.state) && take.state !== 'waiting')) continue;
      // Whatever keeps it from being done now, it is still to be done.
      await context.recover(take, before).catch(() => void left.set(id, before));
    }
  }
  const timer = setInterval(() => void takeUp(), lookEveryMs);
  timer.unref();

  async function leave(now: CurrentTake, endText: string): Promise<void> {
    left.set(now.take.id, now);
    try {
      await takes.update(now.take.id, { state: 'waiting', end: now.how, endText });
    } catch (error) {
      log.add('error', `That a take waits could not be stored: ${errorText(error)}`);
    }
  }

  return {
    leave,
    async failed(now, error) {
      if (gaveWay(error)) return leave(now, 'Its file is closed. It is read back as soon as nothing rolls.');
      try {
        await after.storeFailure(now.take, errorText(error));
      } catch (worse) {
        log.add('error', `It is tried again while the application runs: ${errorText(worse)}`);
        left.set(now.take.id, now);
        live.notify(
          'loss',
          `${capitalised(takeName(now.take))} is not finished`,
          `What became of it cannot be stored (${errorText(worse)}). Its file is not touched; it is tried again until it can be.`,
          now.take.id,
        );
      }
    },
    while(promise) {
      deciding++;
      void promise.catch((error: unknown) => log.add('error', errorText(error))).finally(() => deciding--);
    },
    close: () => clearInterval(timer),
  };
}
