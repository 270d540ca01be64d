import { existsSync } from 'node:fs';
import { dirname } from 'node:path';
import { capitalised, errorText, takeName } from '@mellow/core';
import type { Take } from '@mellow/model';
import type { AppLog } from '../program/appLog';
import type { DiscardService } from './discards';
import type { Journals } from '../files/journals';
import { settleMoves, type MoveServices } from './moveTakes';

export interface LeftWork extends Pick<MoveServices, 'takes' | 'setups' | 'drives'> {
  journals: Journals;
  discards: Pick<DiscardService, 'empty'>;
  log: AppLog;
}

/** What of a take is away is not removed, and not forgotten either. */
const isAllThere = ({ files }: Take): boolean => files.every(({ path }) => existsSync(dirname(path)));

/**
 * Goes on with work on files that the end of an earlier run cut off: what was moved is found, what was to be removed is removed, and
 * what was not finished is undone. Nothing that a take has is touched by that.
 */
export async function goOnWithFiles({ journals, takes, setups, drives, discards, log }: LeftWork): Promise<void> {
  const left = journals.left();
  await settleMoves({ takes, setups, drives }, left.steps);
  for (const step of left.steps) {
    if (step.step !== 'removing' && step.step !== 'emptying') continue;
    const take = (await takes.list()).find(({ id }) => id === step.takeId);
    if (!take || !isAllThere(take)) continue;
    try {
      const { removed } = step.step === 'removing' ? await takes.remove(take.id) : await discards.empty(take.id);
      const what = step.step === 'removing' ? 'was being deleted' : 'had its discards emptied';
      log.add(
        'info',
        `${capitalised(takeName(take))} ${what} when the application ended. Removed: ${removed.join(', ')}.`,
      );
    } catch (error) {
      log.add('warn', `${capitalised(takeName(take))} is still there: ${errorText(error)}`);
    }
  }
  const stored = new Set((await takes.list()).flatMap(({ files }) => files.map(({ path }) => path)));
  left.undo((path) => stored.has(path));
}
