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
  type ForecastContext,
  type LedgerColumns,
} from '@mellow/core';
import {
  readLedgerColumns,
  replaceClosedLedger,
  reserveFile,
  rollToEnd,
  warmUpUs,
  type RecorderClient,
} from '@mellow/engine';
import {
  fateCode,
  readBackResultSchema,
  type EncoderName,
  type GameRun,
  type Recipe,
  type ReadBackResult,
  type TakeClosing,
  type TakeOrder,
} from '@mellow/model';
import { passagesFor } from '../orders/passages';
import type { JobService } from '../files/jobs';

export interface SimulatedTake {
  closing: TakeClosing;
  reading: ReadBackResult;
}

export interface SimulatedTakeInput {
  recorder: RecorderClient;
  jobs: JobService;
  order: TakeOrder;
  context: ForecastContext;
  seed: number;
}

/** The software encoder that stands in for a block of a simulated machine. */
const nearestSoftware: Record<'AVC' | 'HEVC' | 'AV1', EncoderName> = {
  AVC: 'avc-software',
  HEVC: 'hevc-software',
  AV1: 'av1-software',
};
export function encodableRecipe(recipe: Recipe): Recipe {
  const { place, standard } = encoderFacts[recipe.encode.encoder];
  if (place === 'software') return recipe;
  const { encode, ...rest } = withEncoder(recipe, nearestSoftware[standard as 'AVC' | 'HEVC' | 'AV1']);
  // It stands for the block at the block's own number; what that is worth the model says apart.
  return { ...rest, encode: { ...encode, quality: recipe.encode.quality } };
}

/**
 * A take on a simulated machine in two passes (docs/model.md, "A take on a simulated machine"): every due frame is encoded
 * for its bytes, the path is simulated with them, and what it files is encoded into the file. Picture, sound and bytes are
 * real, times come from the model.
 * @throws in words where it was stopped before anything was due, or the recorder ends
 */
export async function makeSimulatedTake(input: SimulatedTakeInput): Promise<SimulatedTake> {
  const { recorder, order, context, seed, jobs } = input;
  const recipe = encodableRecipe(order.recipe);
  // Without a cap the practice game numbers its slots by the millisecond, so that any rate of the simulated game finds its pictures.
  const game = { ...order.game, capFps: null };
  const base: TakeOrder = { ...order, recipe, game, clock: 'driven', baselineS: 0 };
  const draft = await draftBytes(input, base);
  const forecast = forecastOf(order.recipe, context);
  const lengthS = (draft.bytes.length * recipe.rate.den) / recipe.rate.num;
  const parameters = {
    ...pathParametersOf(order.recipe, context, forecast, seed, passagesFor(order.game, lengthS)),
    dueFrames: draft.bytes.length,
    bytes: { each: draft.bytes },
  };
  const run = simulatePath(parameters);
  const alone = simulateGameAlone(parameters);
  const slots = slotsOfPresents(run.presentsUs, slotOf);
  const closing = await rollToEnd(recorder, {
    ...base,
    dueFrames: draft.bytes.length,
    plan: {
      fate: Array.from(run.columns.fate),
      cause: Array.from(run.columns.cause),
      slot: Array.from(run.columns.sourceFrame, (frame) => (frame === NEVER ? null : (slots[frame] ?? null))),
    },
  });
  const reading = await readBack(jobs, order.takeId, base, closing);
  const columns = withTimesOf(readLedgerColumns(order.ledgerFolder), run.columns);
  const seconds = secondRowsOf(run, parameters);
  replaceClosedLedger(order.ledgerFolder, columns, seconds);
  const presented = run.presentsUs.filter((at) => at >= 0 && at < run.endUs).length;
  return {
    closing: {
      ...closing,
      end: draft.end === 'length' ? closing.end : draft.end,
      baseline: gameRun(alone),
      recorded: gameRun(run.presentsUs),
      pairs: 1,
      latenessUs: null,
    },
    reading: {
      ...reading,
      summary: summarise(columns, {
        rate: recipe.rate,
        seconds,
        cores: order.machine.cores,
        tailFrames: reading.tailFrames,
        presented,
        passedOver: null,
        notReached: null,
      }),
    },
  };
}

/** The first pass: every due frame encoded into a file that nobody keeps, for its bytes. */
async function draftBytes(
  { recorder, order, jobs }: SimulatedTakeInput,
  base: TakeOrder,
): Promise<{ bytes: Int32Array; end: TakeClosing['end'] }> {
  const folder = join(order.ledgerFolder, 'draft');
  mkdirSync(folder, { recursive: true });
  try {
    const reserved = reserveFile(join(folder, 'draft.mkv'));
    const slots = Array.from({ length: order.dueFrames }, (_, n) => slotOf(dueUs(base.recipe.rate, n)));
    const filed = fateCode('new');
    const draft: TakeOrder = {
      ...base,
      recipe: { ...base.recipe, container: 'matroska' },
      takeId: `${order.takeId}-draft`,
      filePath: reserved.path,
      identity: reserved.identity,
      ledgerFolder: folder,
      driveFolder: folder,
      quotaBytes: null,
      largestFileBytes: null,
      keepPictures: false,
      plan: { fate: slots.map(() => filed), cause: slots.map(() => 0), slot: slots },
    };
    const closing = await rollToEnd(recorder, draft);
    await readBack(jobs, order.takeId, draft, closing);
    const { bytes } = readLedgerColumns(folder);
    if (!bytes.length) throw new Error('It was stopped before the first frame was due, so nothing was recorded.');
    return { bytes: bytes.map((count) => Math.max(0, count)), end: closing.end };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function readBack(
  jobs: JobService,
  takeId: string,
  order: TakeOrder,
  closing: TakeClosing,
): Promise<ReadBackResult> {
  const { presented, passedOver, notReached } = closing;
  const job = {
    kind: 'read-back' as const,
    ledgerFolder: order.ledgerFolder,
    filePath: closing.filePath,
    interrupted: !closing.closedWell,
    ...{ presented, passedOver, notReached },
  };
  return readBackResultSchema.parse(await jobs.run({ title: 'Reading the file back', takeId, job }));
}

/** The practice game's slot at a time of the take, with a slot each millisecond. */
function slotOf(timeUs: number): number {
  return Math.floor((timeUs + warmUpUs) / 1000);
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
