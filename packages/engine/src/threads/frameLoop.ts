import type { Control } from '../shared/control';
import type { RingReader } from '../shared/messageRing';
import { queueKinds } from '../shared/queueKinds';

/** Takes frames from a queue until its end, or until the take has failed elsewhere. @returns whether the end came */
export function forEachFrame(
  queue: RingReader,
  control: Control,
  handle: (n: number, slot: number, isRepeat: boolean) => void,
): boolean {
  for (;;) {
    const message = queue.next(200_000);
    if (!message) {
      if (control.get('failed')) return false;
      continue;
    }
    const [kind, n, slot] = message.fields;
    if (kind !== queueKinds.end) handle(n, slot, kind === queueKinds.repeat);
    queue.done();
    if (kind === queueKinds.end) return true;
  }
}
