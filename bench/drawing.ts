import { plainPracticeGame, withScene } from '@mellow/core';
import { practiceScenes, type PracticeSceneName } from '@mellow/model';
import { addSound, createPicture, practiceScene } from '@mellow/practice';
import { atMost, figure, median, type BenchResult } from './measure';

/** Drawing a frame of each practice game, and a second of sound. */
export function benchDrawing(): BenchResult[] {
  const sound = new Float32Array(96_000);
  const startedMs = performance.now();
  for (let i = 0; i < 5; i++) addSound(sound, 'game', i * 48_000, false);
  const soundMs = (performance.now() - startedMs) / 5;
  return [
    ...practiceScenes.map((scene) =>
      atMost(`drawing a frame of ${scene}, 1920x1080`, drawingMs(scene), 'ms', scene === 'tin-cathedral' ? 7 : 4),
    ),
    figure('a second of the game’s sound', soundMs, 'ms'),
  ];
}

function drawingMs(name: PracticeSceneName): number {
  const game = withScene({ ...plainPracticeGame, widthPx: 1920, heightPx: 1080 }, name);
  const scene = practiceScene(game);
  const picture = createPicture(1920, 1080);
  const times: number[] = [];
  for (let i = 0; i < 500; i++) {
    const startedMs = performance.now();
    scene.draw(picture, i * 2);
    if (i >= 100) times.push(performance.now() - startedMs);
  }
  return median(times);
}
