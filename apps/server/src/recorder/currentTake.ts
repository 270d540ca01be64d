import type { ReadBackResult, Take, TakeEnd } from '@mellow/model';
import type { PreparedTrial } from './orderTrial';
import type { createRoomWatch } from './roomWatch';

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
  ended: () => void;
  whenEnded: Promise<void>;
}
