import type { ReadBackResult, Take, TakeEnd } from '@mellow/model';
import type { LiveHub } from '../services/liveHub';
import type { PreparedTrial } from './orderTrial';
import { createRoomWatch } from './roomWatch';

/** A take being made, with what is known of it beside the machine's state. */
export interface CurrentTake {
  take: Take;
  prepared: PreparedTrial | null;
  /** What the recorder said at the end, where it still could. */
  how: TakeEnd;
  text: string | null;
  reading: ReadBackResult | null;
  /** Says when the room runs out. */
  room: ReturnType<typeof createRoomWatch>;
  /** A fresh recorder was tried once already. */
  begunAgain: boolean;
  /** Its recorder died or hung while it rolled, and nobody had asked it to stop. */
  diedRolling: boolean;
  ended: () => void;
  whenEnded: Promise<void>;
}

/** A take that is begun, or looked after again where nothing is `prepared`. */
export function currentTake(
  live: LiveHub,
  known: Pick<CurrentTake, 'take' | 'prepared' | 'how' | 'text'>,
): CurrentTake {
  let ended: () => void = () => {};
  const whenEnded = new Promise<void>((resolve) => (ended = resolve));
  const room = createRoomWatch(live, known.take);
  return { ...known, reading: null, room, begunAgain: false, diedRolling: false, ended, whenEnded };
}

/** It ended because something broke under it, and what is played goes on. */
export const cutOff = ({ diedRolling, how }: Pick<CurrentTake, 'diedRolling' | 'how'>): boolean =>
  diedRolling || how === 'drive-gone' || how === 'drive-error';
