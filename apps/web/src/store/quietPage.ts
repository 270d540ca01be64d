import type { LiveState } from '@mellow/model';

/** What a page draws by itself takes frames from the game: no oftener than a person reads, unless they look. */
const everyMs = 1000;
/** Who moves the pointer or presses a key over the page looks at it for so long. */
const lookMs = 4000;

export interface Looks {
  looking(): boolean;
}

/** Whether somebody looks at the page: its pointer moves, a key is pressed, something is scrolled. */
export function createLooks(page: EventTarget, clock: () => number = () => performance.now()): Looks {
  let lookedMs = -Infinity;
  const note = (): void => void (lookedMs = clock());
  for (const event of ['pointermove', 'pointerdown', 'keydown', 'wheel', 'focusin'])
    page.addEventListener(event, note, { passive: true });
  return { looking: () => clock() - lookedMs < lookMs };
}

/**
 * Whether a state that arrived while a take rolls may wait: only figures have moved, and the last were drawn just now.
 * @param sinceMs since a state was last drawn
 */
export function mayWait(before: LiveState | null, now: LiveState, sinceMs: number): boolean {
  if (!before || before.recorder !== 'rolling' || now.recorder !== 'rolling' || sinceMs >= everyMs) return false;
  const told = (state: LiveState): unknown[] => [
    state.dataVersion,
    state.notice?.id,
    state.windowHidden,
    state.take?.takeId,
    state.take?.state,
    state.take?.pausedS === null,
    state.take?.troubles.length,
    state.take?.parts,
  ];
  return told(before).every((value, i) => value === told(now)[i]);
}
