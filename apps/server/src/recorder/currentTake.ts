import type { ReadBackResult, Take, TakeClosing, TakeEnd } from '@mellow/model';
import type { LiveHub } from '../program/liveHub';
import type { PreparedTrial } from '../orders/orderTrial';
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
  /** What the recorder said when it had closed the container: the data folder may have had no room for it. */
  closing: TakeClosing | null;
  /** Frames that were due by what was last heard of it; null: it is reckoned when it is needed. */
  due: number | null;
  /** How far it had come by what was last heard; 0 where it has not rolled. */
  rolledUs: number;
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
  const nothing = { reading: null, closing: null, due: null, rolledUs: 0, begunAgain: false, diedRolling: false };
  return { ...known, ...nothing, room, ended, whenEnded };
}

/** It ended because something broke under it, and what is played goes on. */
export const cutOff = ({
  diedRolling,
  rolledUs,
  how,
}: Pick<CurrentTake, 'diedRolling' | 'rolledUs' | 'how'>): boolean =>
  diedRolling || how === 'drive-gone' || how === 'drive-error' || (rolledUs > 0 && how === 'error');
