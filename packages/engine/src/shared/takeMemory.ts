import { createControlMemory, type ControlMemory } from './control';
import { createLedgerRingMemory, type LedgerRingMemory } from './ledgerRing';
import { createRingMemory, type RingMemory } from './messageRing';
import { createSampleLogMemory, type SampleLogMemory } from './sampleLog';
import { createSlotPoolMemory, type SlotPoolMemory } from './slotPool';
import { encodeQueueFrames, passesThrough, sizeQueueFrames } from '@mellow/core';
import type { TakeOrder } from '@mellow/model';

/** All memory that the threads of one take share. */
export interface TakeMemory {
  control: ControlMemory;
  ledger: LedgerRingMemory;
  sourcePool: SlotPoolMemory;
  /** Null when nothing is scaled. */
  sizedPool: SlotPoolMemory | null;
  sizeQueue: RingMemory;
  encodeQueue: RingMemory;
  packets: RingMemory;
  fileBytes: RingMemory;
  presents: SampleLogMemory;
  gameTimes: SampleLogMemory;
  stationTimes: Record<'capture' | 'pack' | 'soundSource' | 'drive', SampleLogMemory>;
  lanePeaks: SharedArrayBuffer;
  lateness: SampleLogMemory;
}

export function createTakeMemory(order: TakeOrder): TakeMemory {
  const { game, recipe } = order;
  const file = recipe.size;
  const plain = passesThrough(game, recipe);
  const waiting = encodeQueueFrames + 6;
  return {
    control: createControlMemory(),
    ledger: createLedgerRingMemory(),
    sourcePool: createSlotPoolMemory(
      (plain ? waiting : sizeQueueFrames + 6) + order.predrawnFrames,
      game.widthPx,
      game.heightPx,
    ),
    sizedPool: plain ? null : createSlotPoolMemory(waiting, file.widthPx, file.heightPx),
    sizeQueue: createRingMemory(8192),
    encodeQueue: createRingMemory(8192),
    packets: createRingMemory(64e6),
    fileBytes: createRingMemory(order.waitingLimitBytes * 1.5 + 16e6),
    presents: createSampleLogMemory(),
    gameTimes: createSampleLogMemory(),
    stationTimes: {
      capture: createSampleLogMemory(),
      pack: createSampleLogMemory(),
      soundSource: createSampleLogMemory(),
      drive: createSampleLogMemory(),
    },
    lanePeaks: new SharedArrayBuffer(8 * 8),
    lateness: createSampleLogMemory(),
  };
}

/** What a thread is given when it starts. */
export interface ThreadOrder {
  order: TakeOrder;
  memory: TakeMemory;
}
