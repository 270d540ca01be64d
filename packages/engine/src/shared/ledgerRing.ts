import { byteColumns, intColumns, NEVER, type LedgerColumns } from '@mellow/core';
import { causeCode, fateCode, type Cause, type Fate } from '@mellow/model';

/** The rows of the last frames, written by the threads that handle them; row n stands at n modulo the capacity. */
export const ledgerRingRows = 65_536;

export const rowStates = { open: 0, lost: 1, accepted: 2, packed: 3, written: 4 } as const;

export interface LedgerRingMemory {
  ints: SharedArrayBuffer;
}

const columnNames = [...intColumns, ...byteColumns, 'state'] as const;
export type RingColumn = (typeof columnNames)[number];

export const createLedgerRingMemory = (): LedgerRingMemory => ({
  ints: new SharedArrayBuffer(columnNames.length * ledgerRingRows * 4),
});

export interface LedgerRing {
  /** Prepares row n; the picker calls it once before anything else. */
  open(n: number): void;
  set(n: number, column: RingColumn, value: number): void;
  get(n: number, column: RingColumn): number;
  setFate(n: number, fate: Fate, cause: Cause): void;
  /** Marks a row as lost from a station on: later times become never. */
  lose(n: number, fate: Fate, cause: Cause, from: readonly RingColumn[]): void;
  /** The cause of a repeat, known later than the repeat itself; a row that was lost meanwhile keeps its own. */
  setRepeatCause(n: number, cause: Cause): void;
  setState(n: number, state: number): void;
  state(n: number): number;
  /** Copies rows into columns. */
  copy(from: number, to: number, target: LedgerColumns, dueUsOf: (n: number) => number): void;
}

export function openLedgerRing(memory: LedgerRingMemory): LedgerRing {
  const column = Object.fromEntries(
    columnNames.map((name, i) => [name, new Int32Array(memory.ints, i * ledgerRingRows * 4, ledgerRingRows)]),
  ) as Record<RingColumn, Int32Array>;
  const at = (n: number) => n % ledgerRingRows;
  const set = (n: number, name: RingColumn, value: number) => void (column[name][at(n)] = value);
  const setFate = (n: number, fate: Fate, cause: Cause) => {
    set(n, 'fate', fateCode(fate));
    set(n, 'cause', causeCode(cause));
  };
  const setState = (n: number, state: number) => void Atomics.store(column.state, at(n), state);
  return {
    open(n) {
      for (const name of intColumns) set(n, name, NEVER);
      for (const name of byteColumns) set(n, name, 0);
      setState(n, rowStates.open);
    },
    set,
    get: (n, name) => column[name][at(n)] ?? NEVER,
    setFate,
    lose(n, fate, cause, from) {
      setFate(n, fate, cause);
      for (const name of from) set(n, name, NEVER);
      setState(n, rowStates.lost);
    },
    setRepeatCause(n, cause) {
      if (Atomics.load(column.state, at(n)) !== rowStates.lost) setFate(n, 'repeat', cause);
    },
    setState,
    state: (n) => Atomics.load(column.state, at(n)),
    copy(from, to, target, dueUsOf) {
      for (let n = from; n < to; n++) {
        target.dueUs[n - from] = dueUsOf(n);
        for (const name of intColumns) target[name][n - from] = column[name][at(n)] ?? NEVER;
        for (const name of byteColumns) target[name][n - from] = column[name][at(n)] ?? 0;
      }
    },
  };
}
