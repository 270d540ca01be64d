import { errorText } from '@mellow/core';
import type { PartFile, TakeClosing, TakeOrder, TakeState } from '@mellow/model';
import { openControl, type Control } from '../shared/control';
import { openLedgerRing, type LedgerRing } from '../shared/ledgerRing';
import { openRingWriter } from '../shared/messageRing';
import { openTakeClock, type TakeClock } from '../shared/takeClock';
import { createTakeMemory, type TakeMemory } from '../shared/takeMemory';
import { openSource, type SourceFacts } from '../shared/openSource';
import { createLiveCounter } from './liveCounter';
import { countingLog } from './repeatedLines';
import { openTakeSounds, type TakeSounds } from './takeSounds';
import { createTroubles, type Troubles } from './troubles';

/** The game's frame times, milliseconds, over one passage without and with recording. */
export interface GamePiece {
  without: readonly number[];
  with: readonly number[];
}

/** All that is known of a take while it is made; each part has one who changes it. */
export interface TakeRecord {
  readonly order: TakeOrder;
  readonly memory: TakeMemory;
  readonly control: Control;
  readonly clock: TakeClock;
  readonly ledger: LedgerRing;
  readonly source: SourceFacts;
  readonly sounds: TakeSounds;
  readonly lines: ReturnType<typeof countingLog>;
  readonly counter: ReturnType<typeof createLiveCounter>;
  readonly troubles: Troubles;
  readonly parts: PartFile[];
  readonly keptStripes: TakeClosing['keptStripes'];
  /** The first failure, in words: it is what the take ends with. */
  failure: string | null;
  state: TakeState;
  baselineLeftS: number;
  /** On the monotonic clock; 0 before. */
  dueZeroUs: number;
  piece: GamePiece | null;
}

export function openTakeRecord(
  order: TakeOrder,
  log: (level: 'info' | 'warn' | 'error', text: string) => void,
): TakeRecord {
  const memory = createTakeMemory(order);
  const control = openControl(memory.control);
  const encodeQueue = openRingWriter(memory.encodeQueue);
  return {
    order,
    memory,
    control,
    clock: openTakeClock(memory.clock, control),
    ledger: openLedgerRing(memory.ledger),
    source: openSource(order),
    sounds: openTakeSounds(order, memory),
    lines: countingLog(log),
    counter: createLiveCounter(),
    troubles: createTroubles(control, encodeQueue.count),
    parts: [{ path: order.filePath, identity: order.identity, startUs: 0 }],
    keptStripes: [],
    failure: null,
    state: 'preparing',
    baselineLeftS: order.baselineS,
    dueZeroUs: 0,
    piece: null,
  };
}

/** The take has failed for a reason; the first one stays. */
export function failTake(take: TakeRecord, error: unknown): void {
  take.failure ??= errorText(error).split('\n')[0] || 'It failed without a word.';
}
