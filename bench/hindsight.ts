import { join } from 'node:path';
import { rmSync } from 'node:fs';
import { plainPracticeGame, startRecipe } from '@mellow/core';
import { rollToEnd, startRecorder } from '@mellow/engine';
import type { HindsightOrder } from '@mellow/model';
import { atMost, figure, median, type BenchResult } from './measure';
import { orderOf } from './pipeline';

const rounds = 5;
const frames = 3600;

/** What holding the last minute costs beside a take: the driven pipeline with and without it, by turns, and its memory. */
export async function benchHindsight(folder: string): Promise<BenchResult[]> {
  const recorder = await startRecorder();
  const game = { ...plainPracticeGame, widthPx: 1280, heightPx: 720 };
  const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, game, 'd');
  let heldBytes = 0;
  recorder.onEvent((event) => {
    if (event.type === 'live') heldBytes = Math.max(heldBytes, event.live.held?.bytes ?? 0);
  });
  let run = 0;
  const rolled = async (where: HindsightOrder['where'] | null) => {
    const hindsight = where && { lengthS: 60, where, folder: join(folder, `held-${run}`), limitBytes: 1e9 };
    const order = orderOf(folder, game, recipe, `hindsight-${++run}`, { dueFrames: frames, hindsight });
    const { wallUs, memoryBytes } = await rollToEnd(recorder, order);
    rmSync(order.filePath);
    return { wallUs, bytes: median(memoryBytes.slice(-20)) };
  };
  await rolled(null);
  /** Milliseconds more a frame. */
  const more = { memory: [] as number[], drive: [] as number[] };
  const perFrame = (wallUs: number, without: number): number => (wallUs - without) / 1000 / frames;
  const extra: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const without = await rolled(null);
    const inMemory = await rolled('memory');
    const onDrive = await rolled('drive');
    more.memory.push(perFrame(inMemory.wallUs, without.wallUs));
    more.drive.push(perFrame(onDrive.wallUs, without.wallUs));
    extra.push((inMemory.bytes - without.bytes) / 1e6);
  }
  recorder.quit();
  return [
    atMost('a minute held in memory, time of the unpaced pipeline', median(more.memory), 'ms a frame', 0.25),
    atMost('a minute held on the drive, time of the unpaced pipeline', median(more.drive), 'ms a frame', 0.25),
    figure('a minute held', heldBytes / 1e6, 'MB of packets'),
    figure('memory more than without', median(extra), 'MB'),
  ];
}
