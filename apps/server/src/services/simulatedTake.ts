import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import {
  dueUs,
  encoderFacts,
  forecastOf,
  gameRunOf,
  NEVER,
  pathParametersOf,
  secondRowsOf,
  simulateGameAlone,
  simulatePath,
  summarise,
  withEncoder,
  withoutRecording,
  type ForecastContext,
  type LedgerColumns,
  type Passage,
} from '@mellow/core';
import { readLedgerColumns, replaceClosedLedger, warmUpUs, type EngineClient } from '@mellow/engine';
import {
  fateCode,
  type EncoderName,
  type GameRun,
  type PracticeGame,
  type Recipe,
  type TakeOrder,
  type TakeResult,
} from '@mellow/model';

export interface SimulatedTakeInput {
  engine: EngineClient;
  order: TakeOrder;
  context: ForecastContext;
  seed: number;
}

/** The passages of a take of so many seconds, as the practice game runs through them. */
export function passagesFor(game: PracticeGame, lengthS: number): Passage[] {
  const passages: Passage[] = [];
  for (let left = lengthS, i = 0; left > 1e-6; i++) {
    const passage = game.passages[i % game.passages.length];
    if (!passage) break;
    const seconds = Math.min(left, passage.seconds);
    passages.push({ kind: passage.kind, seconds });
    left -= seconds;
  }
  return passages;
}

/** The software encoder that stands in for a block of a simulated machine. */
const nearestSoftware: Record<'AVC' | 'HEVC' | 'AV1', EncoderName> = {
  AVC: 'avc-software',
  HEVC: 'hevc-software',
  AV1: 'av1-software',
};
export function encodableRecipe(recipe: Recipe): Recipe {
  const { place, standard } = encoderFacts[recipe.encode.encoder];
  return place === 'software' ? recipe : withEncoder(recipe, nearestSoftware[standard as 'AVC' | 'HEVC' | 'AV1']);
}

/**
 * A take on a simulated machine in two passes (path model, "A simulated take"): every due frame is encoded for its bytes,
 * the path is simulated with them, and what it files is encoded into the file. Picture, sound and bytes are real, times come from the model.
 */
export async function makeSimulatedTake({ engine, order, context, seed }: SimulatedTakeInput): Promise<TakeResult> {
  const recipe = encodableRecipe(order.recipe);
  // Without a cap the practice game numbers its slots by the millisecond, so that any rate of the simulated game finds its pictures.
  const game = { ...order.game, capFps: null };
  const draftFolder = join(order.ledgerFolder, 'draft');
  mkdirSync(draftFolder, { recursive: true });
  const slotOf = (timeUs: number): number => Math.floor((timeUs + warmUpUs) / 1000);
  const all = Array.from({ length: order.dueFrames }, (_, n) => slotOf(dueUs(recipe.rate, n)));
  const code = fateCode('new');
  const first = await rollOnce(engine, {
    ...order,
    recipe,
    game,
    clock: 'driven',
    baselineS: 0,
    takeId: `${order.takeId}-draft`,
    filePath: join(draftFolder, 'draft.mkv'),
    ledgerFolder: draftFolder,
    plan: { fate: all.map(() => code), cause: all.map(() => 0), slot: all },
  });
  const drafted = readLedgerColumns(draftFolder);
  rmSync(draftFolder, { recursive: true, force: true });
  const forecast = forecastOf(order.recipe, context);
  const lengthS = (drafted.length * recipe.rate.den) / recipe.rate.num;
  const parameters = {
    ...pathParametersOf(order.recipe, context, forecast, seed, passagesFor(order.game, lengthS)),
    dueFrames: drafted.length,
    bytes: { each: Int32Array.from(drafted.bytes, (b) => Math.max(0, b)) },
  };
  const run = simulatePath(parameters);
  const alone = simulateGameAlone(withoutRecording(parameters));
  const slots = slotsOfPresents(run.presentsUs, slotOf);
  const result = await rollOnce(engine, {
    ...order,
    recipe,
    game,
    clock: 'driven',
    baselineS: 0,
    dueFrames: drafted.length,
    plan: {
      fate: Array.from(run.columns.fate),
      cause: Array.from(run.columns.cause),
      slot: Array.from(run.columns.sourceFrame, (frame) => (frame === NEVER ? null : (slots[frame] ?? null))),
    },
  });
  const columns = withTimesOf(readLedgerColumns(order.ledgerFolder), run.columns);
  const seconds = secondRowsOf(run, parameters);
  replaceClosedLedger(order.ledgerFolder, columns, seconds);
  const presented = run.presentsUs.filter((at) => at >= 0 && at < run.endUs).length;
  return {
    ...result,
    end: first.end === 'length' ? result.end : first.end,
    summary: summarise(columns, {
      rate: recipe.rate,
      seconds,
      cores: order.machine.cores,
      tailFrames: result.tailFrames,
      presented,
      passedOver: null,
      notReached: null,
    }),
    baseline: gameRun(alone),
    recorded: gameRun(run.presentsUs),
    latenessUs: null,
  };
}

/** One slot for each presented frame, rising strictly. */
function slotsOfPresents(presentsUs: Float64Array, slotOf: (timeUs: number) => number): number[] {
  const slots: number[] = [];
  for (const at of presentsUs) slots.push(Math.max(slotOf(at), (slots[slots.length - 1] ?? -1) + 1));
  return slots;
}

function gameRun(presentsUs: Float64Array): GameRun | null {
  const times: number[] = [];
  for (let i = 1; i < presentsUs.length; i++)
    if (presentsUs[i]! > 0) times.push((presentsUs[i]! - presentsUs[i - 1]!) / 1000);
  return times.length ? gameRunOf(times) : null;
}

/** The closed ledger of the file, with the times of the simulated path; fates agree by construction and are checked. */
function withTimesOf(closed: LedgerColumns, simulated: LedgerColumns): LedgerColumns {
  for (let n = 0; n < closed.length; n++) {
    if (closed.fate[n] !== simulated.fate[n])
      throw new Error(`due ${n} was to be ${simulated.fate[n]} and is ${closed.fate[n]} in the file`);
  }
  const { source, picked, captured, sized, encodeIn, encodeOut, written } = simulated;
  return { ...closed, source, picked, captured, sized, encodeIn, encodeOut, written };
}

/** Rolls one order to its end. */
function rollOnce(engine: EngineClient, order: TakeOrder): Promise<TakeResult> {
  return new Promise((resolve, reject) => {
    engine.onEvent((event) => {
      if (event.type === 'done' && event.result.takeId === order.takeId) resolve(event.result);
      if (event.type === 'refused' && event.takeId === order.takeId) reject(new Error(event.text));
    });
    engine.onExit((code, signal) => reject(new Error(`the recorder's process ended (${signal ?? code})`)));
    engine.roll(order);
  });
}
