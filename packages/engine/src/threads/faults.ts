import type { ScriptEvent, TakeOrder } from '@mellow/model';
import { sleepUs } from '../shared/monotonic';

type Fault = Extract<ScriptEvent, { kind: 'thread-fails' }>;

/** Where a thread is in its work. */
export type FaultPlace = Fault['at'];

/**
 * Scripted faults of a thread: it throws, or hangs, where its script says so, each once. Nothing where there is no script.
 * @param thread as the script names it
 */
export function createFaults(order: Pick<TakeOrder, 'script'>, thread: string): (at: FaultPlace, n?: number) => void {
  const left = order.script.filter((event): event is Fault => event.kind === 'thread-fails' && event.thread === thread);
  if (!left.length) return () => {};
  return (at, n = 0) => {
    const found = left.findIndex(
      (fault) => fault.at === at && (at !== 'frame' || (n >= fault.fromDue && n < fault.toDue)),
    );
    const [fault] = found < 0 ? [] : left.splice(found, 1);
    if (!fault) return;
    if (fault.hangS === null) throw new Error(`scripted failure of ${thread}`);
    sleepUs(fault.hangS * 1e6);
  };
}
