import { errorText } from '@mellow/core';
import type { Take, TakeClosing } from '@mellow/model';
import type { Keeping } from '../hindsight/keeping';
import type { Watchdog } from '../hindsight/watchdog';
import type { AfterTake } from './afterTake';
import type { CurrentTake } from './currentTake';
import type { Heard } from './dueHeard';
import type { RecorderContext } from './recorderContext';
import type { RecorderProcess } from './recorderProcess';
import type { RecorderService } from './recorderService';
import type { LifeEvent, LifeState } from './takeLife';
import type { UnfinishedTakes } from './unfinishedTakes';

/** All that the recorder's service knows: the state of the machine, the take that it is about, and who helps with it. */
export interface RecorderShell {
  readonly context: RecorderContext;
  readonly after: AfterTake;
  readonly recorder: RecorderProcess;
  readonly keeping: Keeping;
  readonly unfinished: UnfinishedTakes;
  readonly watchdog: Watchdog;
  readonly endListeners: Set<Parameters<RecorderService['onEnded']>[0]>;
  /** Gives an event to the machine and does what it answers. @throws a problem where it is turned down */
  hear(event: LifeEvent): void;
  life: LifeState;
  current: CurrentTake | null;
  /** When the recorder last told of the take, by performance.now(); 0: it has not yet. */
  heardAtMs: number;
  takesMade: number;
}

/** The take's own folder, where lines of the log about it go, too. */
export const folderNow = ({ current, context }: RecorderShell): string | undefined =>
  current ? context.takes.folder(current.take.id) : undefined;

/** What the recorder last told of the take that is made. */
export function heardNow({ context, heardAtMs }: RecorderShell): Heard | null {
  const told = context.live.state().take;
  return told && heardAtMs ? { live: told, sinceS: (performance.now() - heardAtMs) / 1000 } : null;
}

/** Stores a change of a take; a database that cannot be written is told, and ends nothing. */
export async function storeChange({ context }: RecorderShell, takeId: string, change: Partial<Take>): Promise<void> {
  try {
    await context.takes.update(takeId, change);
  } catch (error) {
    context.log.add('error', `What became of the take could not be stored: ${errorText(error)}`);
  }
}

/** What a closing says of how a take ended. */
export const endOf = ({ end, endText, filePath }: TakeClosing): Pick<Take, 'end' | 'endText' | 'filePath'> => ({
  end,
  endText,
  filePath,
});
