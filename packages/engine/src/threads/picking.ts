import { passesThrough } from '@mellow/core';
import { openSource, type SourceFacts } from '../shared/openSource';
import { openControl, type Control } from '../shared/control';
import { openLedgerRing, rowStates, type LedgerRing } from '../shared/ledgerRing';
import { openRingWriter, type RingWriter } from '../shared/messageRing';
import { openSlotPool, type SlotPool } from '../shared/slotPool';
import { openTakeClock, type TakeClock } from '../shared/takeClock';
import type { ThreadOrder } from '../shared/takeMemory';
import { queueKinds } from '../shared/queueKinds';
import { createUnwritten, type Unwritten } from './unwritten';

/** The frame that was filed last, still held. */
export interface FiledFrame {
  slot: number;
  frame: number;
  serial: number;
  /** When it was presented, on the picker's clock. */
  presentUs: number;
}

/** What both clocks of the picker stand on: queues, pool and ledger, and the hand-on of accepted frames. */
export interface Picking {
  order: ThreadOrder['order'];
  memory: ThreadOrder['memory'];
  source: SourceFacts;
  control: Control;
  clock: TakeClock;
  ledger: LedgerRing;
  pool: SlotPool;
  plain: boolean;
  sizeQueue: RingWriter;
  encodeQueue: RingWriter;
  lastFiled(): FiledFrame | null;
  /** How long the oldest packet has waited that is not with the drive, and for whom. */
  unwritten(nowUs: number): Unwritten;
  /** Frames accepted as new so far. */
  accepted(): number;
  /** A new frame goes on; the one filed before is given back. @param keepSlots pre-drawn pictures stay where they are */
  handOnNew(n: number, frame: FiledFrame, dueUs: number, sourceUs: number, keepSlots?: boolean): void;
  /** The last filed frame goes on once more. */
  handOnRepeat(n: number, dueUs: number): void;
  end(): void;
}

export function openPicking({ order, memory }: ThreadOrder): Picking {
  const control = openControl(memory.control);
  const ledger = openLedgerRing(memory.ledger);
  const pool = openSlotPool(memory.sourcePool);
  const source = openSource(order);
  const plain = passesThrough(order.game, order.recipe);
  const sizeQueue = openRingWriter(memory.sizeQueue);
  const encodeQueue = openRingWriter(memory.encodeQueue);
  const next = plain ? encodeQueue : sizeQueue;
  const clock = openTakeClock(memory.clock, control);
  const packets = createUnwritten(order.recipe.rate, ledger, control);
  let last: FiledFrame | null = null;
  let accepted = 0;
  const push = (kind: number, n: number, slot: number): void => {
    ledger.setState(n, rowStates.accepted);
    packets.accepted(n);
    pool.addHolder(slot);
    next.push([kind, n, slot, 0, 0], null, 60e6);
  };
  return {
    order,
    memory,
    source,
    control,
    clock,
    ledger,
    pool,
    plain,
    sizeQueue,
    encodeQueue,
    unwritten: (nowUs) => packets.oldest(clock.fileOf(nowUs)),
    lastFiled: () => last,
    accepted: () => accepted,
    handOnNew(n, frame, dueUs, sourceUs, keepSlots = false) {
      if (last && !keepSlots) pool.release(last.slot);
      last = frame;
      accepted++;
      ledger.setFate(n, 'new', 'none');
      ledger.set(n, 'source', sourceUs - dueUs);
      ledger.set(n, 'sourceFrame', frame.frame);
      push(queueKinds.picture, n, frame.slot);
    },
    handOnRepeat(n, dueUs) {
      if (!last) return;
      ledger.set(n, 'source', last.presentUs - dueUs);
      ledger.set(n, 'sourceFrame', last.frame);
      push(queueKinds.repeat, n, last.slot);
    },
    end: () => void next.push([queueKinds.end, 0, 0, 0, 0], null, 60e6),
  };
}
