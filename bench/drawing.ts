import { fork } from 'node:child_process';
import { practiceScenes, type PracticeSceneName } from '@mellow/model';
import { addSound } from '@mellow/practice';
import { bundled } from './bundle';
import { atMost, figure, type BenchResult } from './measure';

/** Drawing a frame of each practice game, and a second of sound. */
export async function benchDrawing(): Promise<BenchResult[]> {
  const sound = new Float32Array(96_000);
  const startedMs = performance.now();
  for (let i = 0; i < 5; i++) addSound(sound, 'game', i * 48_000, false);
  const soundMs = (performance.now() - startedMs) / 5;
  const bundle = await bundled('drawingLoop');
  const results: BenchResult[] = [];
  for (const scene of practiceScenes)
    results.push(atMost(`drawing a frame of ${scene}, 1920x1080`, await drawingMs(bundle, scene), 'ms', 4));
  return [...results, figure('a second of the game’s sound', soundMs, 'ms')];
}

/** One scene has a process of its own, as the recorder's game thread draws one only. */
function drawingMs(bundle: string, scene: PracticeSceneName): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = fork(bundle, [scene], { execArgv: [] });
    child.on('message', (ms) => resolve(Number(ms)));
    child.on('exit', (code) => code && reject(new Error(`drawing ended with ${code}`)));
  });
}
