import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  readLedgerColumns,
  reserveFile,
  rollToEnd,
  runMediaJob,
  writePartsList,
  writeStripesList,
  startRecorder,
  type RecorderClient,
} from '@mellow/engine';
import { plainPracticeGame, startRecipe, type LedgerColumns } from '@mellow/core';
import {
  practiceSource,
  readBackResultSchema,
  type PracticeGame,
  type ReadBackResult,
  type Recipe,
  type TakeClosing,
  type TakeOrder,
  type TakeResult,
} from '@mellow/model';

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

/** The path by which all of a take is read. */
export function readableOf(order: TakeOrder, { parts, filePath, keptStripes }: TakeClosing): string {
  if (parts.length) return writePartsList(order.ledgerFolder, parts);
  if (!order.stripes) return filePath;
  const paths = order.stripes.places.map(({ path }, i) => keptStripes.find(({ stripe }) => stripe === i)?.path ?? path);
  return writeStripesList(order.ledgerFolder, order.stripes, paths);
}

/** A bench for takes: one recorder, a folder that is removed afterwards. */
export interface TakeBench {
  make(change?: TakeChange): Promise<MadeTake>;
  orderOf(change?: TakeChange): TakeOrder;
  recorder(): RecorderClient;
  folder: string;
  close(): void;
}

/** Reads a closed take back, as the server has it done. */
export async function readBackOf(order: TakeOrder, closing: TakeClosing, log: string[]): Promise<ReadBackResult> {
  const { presented, passedOver, notReached } = closing;
  const job = {
    kind: 'read-back' as const,
    ledgerFolder: order.ledgerFolder,
    filePath: readableOf(order, closing),
    interrupted: !closing.closedWell,
    ...{ presented, passedOver, notReached },
  };
  return readBackResultSchema.parse(await runMediaJob(job, { onLog: (_level, text) => log.push(text) }));
}

export async function openTakeBench(): Promise<TakeBench> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-take-'));
  const recorder = await startRecorder();
  let count = 0;
  const orderOf = (change: TakeChange = {}): TakeOrder => {
    const game: PracticeGame = { ...plainPracticeGame, widthPx: 640, heightPx: 360, strip: true, ...change.game };
    // At 60 whatever the game reaches, so that slow games can be tried.
    const reaching = { ...game, capFps: null };
    const start = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, reaching, 'd');
    const recipe: Recipe = {
      ...start,
      lanes: start.lanes.slice(0, 1),
      ...change.recipe,
      size: { ...start.size, ...change.size },
      encode: { ...start.encode, ...change.encode },
    };
    const name = `take-${++count}`;
    const suffix = change.suffix ?? (recipe.container === 'matroska' ? 'mkv' : 'mp4');
    const reserved = reserveFile(join(folder, `${name}.${suffix}`));
    return {
      takeId: name,
      recipe,
      game,
      source: practiceSource,
      machine: { name: 'this PC', cores: 2, processor: 'p', memoryBytes: 1, system: 's', origin: 'measured' },
      clock: 'driven',
      dueFrames: 90,
      warmUpS: 0.5,
      baselineS: 0,
      pairs: 1,
      filePath: reserved.path,
      identity: reserved.identity,
      ledgerFolder: join(folder, `${name}.ledger`),
      driveFolder: folder,
      quotaBytes: null,
      largestFileBytes: null,
      waitingLimitBytes: 64e6,
      reserveBytes: 0,
      encoderThreads: 0,
      script: [],
      plan: null,
      predrawnFrames: 0,
      pageSounds: null,
      cameraFile: null,
      openEnd: false,
      cameraInput: null,
      unfiled: false,
      reservePath: null,
      hindsight: null,
      parts: null,
      stripes: null,
      keepPictures: false,
      ...change.order,
    };
  };
  return {
    orderOf,
    folder,
    recorder: () => recorder,
    async make(change) {
      const order = orderOf(change);
      const log: string[] = [];
      const stop = recorder.onEvent((event) => void (event.type === 'log' && log.push(event.text)));
      const closing = await rollToEnd(recorder, order).finally(stop);
      const result = { ...closing, ...(await readBackOf(order, closing, log)) };
      return { order, result, columns: readLedgerColumns(order.ledgerFolder), log };
    },
    close() {
      recorder.kill();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
