import { fork } from 'node:child_process';
import { closeSync, mkdirSync, openSync, readSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { plainPracticeGame, startRecipe, withEncoder } from '@mellow/core';
import { reserveFile, rollToEnd, runMediaJob, startRecorder, type RecorderClient } from '@mellow/engine';
import { practiceSource, type PracticeGame, type Recipe, type TakeOrder } from '@mellow/model';
import { bundled } from './bundle';
import { inTurns, type Contender } from './inTurns';
import { atLeast, atMost, figure, median, type BenchResult } from './measure';

/**
 * The driven pipeline against a bare encoder loop: same options, threads, frames and drive, in turns of a second. Two minutes
 * of 60 fps: the threads of each take are compiled anew while it rolls (half a second of processor in the runtime's own
 * threads, most of it in the first ten seconds), which is 3 % of 2400 frames and 1 % of these.
 */
const frames = 7200;
const rounds = 3;
const predrawn = 60;

export function orderOf(
  folder: string,
  game: PracticeGame,
  recipe: Recipe,
  name: string,
  change: Partial<TakeOrder>,
): TakeOrder {
  const reserved = reserveFile(join(folder, `${name}.mkv`));
  return {
    takeId: name,
    recipe,
    game,
    machine: { name: 'bench', cores: 2, processor: '', memoryBytes: 1, system: '', origin: 'measured' },
    clock: 'driven',
    dueFrames: frames,
    warmUpS: 2,
    baselineS: 0,
    pairs: 1,
    source: practiceSource,
    filePath: reserved.path,
    identity: reserved.identity,
    ledgerFolder: join(folder, name),
    driveFolder: folder,
    quotaBytes: null,
    largestFileBytes: null,
    waitingLimitBytes: 64e6,
    reserveBytes: 0,
    encoderThreads: 0,
    script: [],
    plan: null,
    predrawnFrames: predrawn,
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
    ...change,
  };
}

/** The bare loop in a process of its own. */
function bareLoop(bundle: string, order: TakeOrder): Contender {
  const child = fork(bundle, [], {
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    execArgv: [],
  });
  let done = 0;
  const whole = new Promise<number>((resolve, reject) => {
    child.on('message', (told: { done: number; wallUs: number | null }) => {
      done = told.done;
      if (told.wallUs !== null) resolve(told.wallUs);
    });
    child.on('exit', (code) => code && reject(new Error(`the bare loop ended with ${code}`)));
  });
  child.send(order);
  return { pid: child.pid ?? 0, done: () => done, whole };
}

/** The whole recorder with the same frames. */
function pipeline(recorder: RecorderClient, order: TakeOrder): Contender {
  let done = 0;
  const quiet = recorder.onEvent((event) => {
    if (event.type === 'live' && event.live.takeId === order.takeId) done = event.live.due;
  });
  const whole = rollToEnd(recorder, order).then(({ wallUs }) => {
    quiet();
    return wallUs;
  });
  return { pid: recorder.pid, done: () => done, whole };
}

export async function benchPipeline(folder: string): Promise<BenchResult[]> {
  const bundle = await bundled('bareLoop');
  const results: BenchResult[] = [];
  const recorder = await startRecorder();
  let run = 0;
  for (const [widthPx, heightPx] of [
    [1280, 720],
    [1920, 1080],
  ] as const) {
    const game: PracticeGame = { ...plainPracticeGame, widthPx, heightPx };
    const recipe = { ...startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd'), lanes: [] };
    const ratios: number[] = [];
    const speeds: number[] = [];
    for (let round = 0; round < rounds; round++) {
      const orders = [1, 2].map(() => orderOf(folder, game, recipe, `run-${++run}`, {}));
      const [ours, bare] = orders as [TakeOrder, TakeOrder];
      const [oursUs, bareUs] = await inTurns(frames, [
        async () => pipeline(recorder, ours),
        async () => bareLoop(bundle, bare),
      ]);
      for (const { filePath } of orders) rmSync(filePath, { force: true });
      ratios.push(bareUs / oursUs);
      speeds.push(frames / (oursUs / 1e6));
    }
    results.push(
      atLeast(`driven pipeline against a bare loop, ${heightPx} lines`, median(ratios), 'of its speed', 0.95),
    );
    results.push(figure(`driven pipeline, ${heightPx} lines`, median(speeds), 'frames/s'));
  }
  results.push(await memoryOver(recorder, folder));
  results.push(await memoryOverTakes(folder));
  results.push(await closingTime(recorder, folder));
  recorder.quit();
  return results;
}

/** Memory of the process over 30 000 frames: the last third against the middle one. */
async function memoryOver(recorder: RecorderClient, folder: string): Promise<BenchResult> {
  const game: PracticeGame = { ...plainPracticeGame, widthPx: 640, heightPx: 360 };
  const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd');
  mkdirSync(folder, { recursive: true });
  const { memoryBytes } = await rollToEnd(
    recorder,
    orderOf(folder, game, recipe, 'memory', { dueFrames: 30_000, predrawnFrames: 0 }),
  );
  const third = Math.floor(memoryBytes.length / 3);
  const middle = median(memoryBytes.slice(third, 2 * third));
  const last = median(memoryBytes.slice(2 * third));
  return atMost('memory over 30 000 frames, last third against the middle one', last / middle, 'times', 1.05);
}

const takesForMemory = 72;

/**
 * Memory that one recorder's process keeps of each take. It rises by some 20 MB a take to a level of its own (collected when
 * needed, allocated by a dozen threads) and stays there from about the twentieth take on, so the last third is held against
 * the middle one.
 */
async function memoryOverTakes(folder: string): Promise<BenchResult> {
  const recorder = await startRecorder();
  const game: PracticeGame = { ...plainPracticeGame, widthPx: 640, heightPx: 360 };
  const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd');
  const ends: number[] = [];
  for (let i = 0; i < takesForMemory; i++) {
    const order = orderOf(folder, game, recipe, `short-${i}`, { dueFrames: 240, keepPictures: true });
    const { memoryBytes } = await rollToEnd(recorder, order);
    ends.push(memoryBytes.at(-1) ?? 0);
    rmSync(order.filePath, { force: true });
  }
  recorder.quit();
  const third = takesForMemory / 3;
  const perTake = (median(ends.slice(-third)) - median(ends.slice(third, -third))) / third / 1e6;
  return atMost(`memory a recorder keeps of each take, over ${takesForMemory}`, perTake, 'MB', 1);
}

/** Closing a take of some gigabytes, reading back included, against reading its file once. */
async function closingTime(recorder: RecorderClient, folder: string): Promise<BenchResult> {
  const game: PracticeGame = { ...plainPracticeGame, widthPx: 1920, heightPx: 1080 };
  const start = withEncoder(startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd'), 'utvideo-software');
  const recipe: Recipe = { ...start, encode: { ...start.encode, pixels: 'rgb' } };
  const order = orderOf(folder, game, recipe, 'large', { dueFrames: 4000 });
  const { presented, passedOver, notReached } = await rollToEnd(recorder, order);
  const job = {
    kind: 'read-back' as const,
    ledgerFolder: order.ledgerFolder,
    filePath: order.filePath,
    interrupted: false,
    ...{ presented, passedOver, notReached },
  };
  const timed = async (work: () => unknown): Promise<number> => {
    const fromMs = performance.now();
    await work();
    return performance.now() - fromMs;
  };
  const readOnce = (): void => {
    const handle = openSync(order.filePath, 'r');
    const piece = Buffer.alloc(1 << 20);
    while (readSync(handle, piece) > 0);
    closeSync(handle);
  };
  readOnce();
  const ratios: number[] = [];
  for (let round = 0; round < 3; round++) {
    const once = await timed(readOnce);
    ratios.push((await timed(() => runMediaJob(job))) / once);
  }
  const gigabytes = statSync(order.filePath).size / 1e9;
  rmSync(order.filePath);
  return figure(`closing a take of ${gigabytes.toFixed(1)} GB, against reading its file once`, median(ratios), 'times');
}
