import { plainPracticeGame } from '@mellow/core';
import { addSound, createPicture, practiceScene } from '@mellow/practice';
import { atMost, figure, median, type BenchResult } from './measure';

/** Drawing a frame of the practice game, and a second of its sound. */
export function benchDrawing(): BenchResult[] {
  const game = { ...plainPracticeGame, widthPx: 1920, heightPx: 1080 };
  const scene = practiceScene(game);
  const picture = createPicture(1920, 1080);
  const times: number[] = [];
  for (let i = 0; i < 700; i++) {
    const startedMs = performance.now();
    scene.draw(picture, i * 2);
    if (i >= 100) times.push(performance.now() - startedMs);
  }
  const sound = new Float32Array(96_000);
  const startedMs = performance.now();
  for (let i = 0; i < 5; i++) addSound(sound, 'game', i * 48_000, false);
  return [
    atMost('drawing a practice frame, 1920x1080', median(times), 'ms', 4),
    figure('a second of the game’s sound', (performance.now() - startedMs) / 5, 'ms'),
  ];
}
