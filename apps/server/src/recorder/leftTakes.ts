import { errorText } from '@mellow/core';
import type { Take, TakeClosing } from '@mellow/model';
import type { AppLog } from '../program/appLog';
import type { TakeService } from '../takes/takes';
import { storedClosing } from './takeReadBack';
import { closesAlone } from './orphanSigns';

const lookEveryMs = 100;
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

export interface WatchedOrphan {
  take: Take;
  folder: string;
  hangMs: number;
  log: AppLog;
  /** It is still waited for. */
  watching(): boolean;
  closed(closing: TakeClosing): Promise<void>;
  gone(): void;
}

/** A recorder without its server closes its take by itself; it is waited for as long as it gets on. */
export async function watchOrphan({ take, folder, hangMs, log, watching, closed, gone }: WatchedOrphan): Promise<void> {
  for (;;) {
    const closing = storedClosing(folder);
    if (closing) return closed(closing);
    if (!watching()) return;
    if (!(await closesAlone(take, folder, hangMs, log))) {
      const last = storedClosing(folder);
      return last ? closed(last) : gone();
    }
    await pause(lookEveryMs);
  }
}

export interface LeftContext {
  log: AppLog;
  takes: Pick<TakeService, 'folder'>;
  /** Resolves when no take is made; false: the application ends. */
  free(): Promise<boolean>;
  /** @param claimed called when nobody can get in front any more */
  recover(take: Take, claimed: () => void): Promise<void>;
}

/** Where a trial gets in front, it is tried again after it. */
const mostTries = 3;

/**
 * One left take after the other.
 * @returns resolves `claimed` when the first is claimed, so that no trial gets in front of it; `whole` when all are done
 */
export function recoverAll(
  { log, takes, free, recover }: LeftContext,
  left: readonly Take[],
): { claimed: Promise<void>; whole: Promise<void> } {
  let begun: () => void = () => {};
  const claimed = new Promise<void>((resolve) => (begun = resolve));
  async function all(): Promise<void> {
    for (const take of left)
      for (let tries = 1; tries <= mostTries; tries++) {
        if (!(await free())) return;
        const why = await recover(take, begun).then(() => null, errorText);
        if (why === null) break;
        log.add('error', `Trial ${take.number} could not be looked after: ${why}`, takes.folder(take.id));
      }
  }
  return { claimed, whole: all().finally(begun) };
}
