import { closeSync, fdatasyncSync, fsyncSync, openSync, rmSync, writeSync } from 'node:fs';
import { randomFillSync } from 'node:crypto';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { plainPracticeGame, startRecipe } from '@mellow/core';
import type { TakeOrder } from '@mellow/model';
import { openRingWriter } from '../packages/engine/src/shared/messageRing';
import { createTakeMemory } from '../packages/engine/src/shared/takeMemory';
import type { ThreadMessage } from '../packages/engine/src/shared/threadPort';
import { fileKinds } from '../packages/engine/src/shared/queueKinds';
import { atLeast, figure, median, type BenchResult } from './measure';
import { orderOf } from './pipeline';

const pieceBytes = 1 << 20;
const pieces = 2048;
const rounds = 7;
/** As many bytes as may wait for the drive: a take's never lie in the processor's cache, and neither do the loop's. */
const apart = 64;
const waiting = randomFillSync(Buffer.allocUnsafe(pieceBytes * apart));
const pieceOf = (i: number): Buffer => waiting.subarray((i % apart) * pieceBytes, ((i % apart) + 1) * pieceBytes);

/** The thread that writes a take against a loop that writes the same bytes and makes them as safe, by turns. */
export async function benchWriter(folder: string): Promise<BenchResult[]> {
  const ratios: number[] = [];
  const speeds: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const raw = byLoop(join(folder, 'raw.bin'));
    const ours = await byThread(folder, `writer-${round}`);
    ratios.push(raw / ours);
    speeds.push((pieceBytes * pieces) / 1e6 / ours);
  }
  return [
    atLeast('writer of takes against the raw device', median(ratios), 'of its speed', 0.9),
    figure('writer of takes', median(speeds), 'MB/s'),
  ];
}

/** @returns seconds */
function byLoop(path: string): number {
  const handle = openSync(path, 'w');
  const from = performance.now();
  let synced = from;
  for (let i = 0; i < pieces; i++) {
    writeSync(handle, pieceOf(i), 0, pieceBytes, i * pieceBytes);
    if (performance.now() - synced < 1000) continue;
    fdatasyncSync(handle);
    synced = performance.now();
  }
  fsyncSync(handle);
  const seconds = (performance.now() - from) / 1000;
  closeSync(handle);
  rmSync(path);
  return seconds;
}

async function byThread(folder: string, name: string): Promise<number> {
  const game = { ...plainPracticeGame, widthPx: 320, heightPx: 180 };
  const order: TakeOrder = orderOf(
    folder,
    game,
    startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd'),
    name,
    {},
  );
  const memory = createTakeMemory(order);
  const worker = new Worker(new URL('../packages/engine/build/drive.mjs', import.meta.url), {
    workerData: { order, memory },
  });
  const told = (wanted: ThreadMessage['type']) =>
    new Promise<void>((resolve, reject) => {
      worker.on('error', reject);
      worker.on('message', (message: ThreadMessage) => {
        if (message.type === 'failed') reject(new Error(message.text));
        if (message.type === wanted) resolve();
      });
    });
  const done = told('done');
  await told('ready');
  const ring = openRingWriter(memory.fileBytes);
  const from = performance.now();
  for (let i = 0; i < pieces; i++) while (!ring.push([fileKinds.bytes, i * pieceBytes, 0, 0, 0], pieceOf(i), 1e6));
  ring.push([fileKinds.end, 0, 0, 0, 0], null, 60e6);
  await done;
  const seconds = (performance.now() - from) / 1000;
  await worker.terminate();
  rmSync(order.filePath);
  return seconds;
}
