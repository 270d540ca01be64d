import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readLedgerColumns, startEngine, type EngineClient } from '@mellow/engine';
import { plainPracticeGame, startRecipe, type LedgerColumns } from '@mellow/core';
import type { EngineEvent, PracticeGame, Recipe, TakeOrder, TakeResult } from '@mellow/model';

export interface MadeTake {
  order: TakeOrder;
  result: TakeResult;
  columns: LedgerColumns;
  /** What the recorder said; a line about ledger and file disagreeing would stand here. */
  log: string[];
}

export interface TakeChange {
  game?: Partial<PracticeGame>;
  recipe?: Partial<Omit<Recipe, 'size' | 'encode'>>;
  size?: Partial<Recipe['size']>;
  encode?: Partial<Recipe['encode']>;
  order?: Partial<TakeOrder>;
  suffix?: string;
}

/** A bench for takes: one engine, a folder that is removed afterwards. */
export interface TakeBench {
  make(change?: TakeChange): Promise<MadeTake>;
  orderOf(change?: TakeChange): TakeOrder;
  engine(): EngineClient;
  close(): void;
}

export async function openTakeBench(): Promise<TakeBench> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-take-'));
  const engine = await startEngine();
  let count = 0;
  const orderOf = (change: TakeChange = {}): TakeOrder => {
    const game: PracticeGame = { ...plainPracticeGame, widthPx: 640, heightPx: 360, strip: true, ...change.game };
    const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd');
    const recipe: Recipe = {
      ...start,
      lanes: start.lanes.slice(0, 1),
      ...change.recipe,
      size: { ...start.size, ...change.size },
      encode: { ...start.encode, ...change.encode },
    };
    const name = `take-${++count}`;
    return {
      takeId: name,
      recipe,
      game,
      machine: { name: 'this PC', cores: 2, processor: 'p', memoryBytes: 1, system: 's', origin: 'measured' },
      clock: 'driven',
      dueFrames: 90,
      baselineS: 0,
      filePath: join(folder, `${name}.${change.suffix ?? 'mkv'}`),
      ledgerFolder: join(folder, `${name}.ledger`),
      driveFolder: folder,
      quotaBytes: null,
      waitingLimitBytes: 64e6,
      reserveBytes: 0,
      encoderThreads: 0,
      script: [],
      plan: null,
      predrawnFrames: 0,
      ...change.order,
    };
  };
  return {
    orderOf,
    engine: () => engine,
    async make(change) {
      const order = orderOf(change);
      const log: string[] = [];
      const result = await new Promise<TakeResult>((resolve, reject) => {
        engine.onEvent((event: EngineEvent) => {
          if (event.type === 'log') log.push(event.text);
          if (event.type === 'done' && event.result.takeId === order.takeId) resolve(event.result);
          if (event.type === 'refused' && event.takeId === order.takeId) reject(new Error(event.text));
        });
        engine.roll(order);
      });
      return { order, result, columns: readLedgerColumns(order.ledgerFolder), log };
    },
    close() {
      engine.kill();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
