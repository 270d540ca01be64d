import { plainPracticeGame, withScene } from '@mellow/core';
import { practiceScenes } from '@mellow/model';
import { createPicture, practiceScene } from '@mellow/practice';
import { median, shared } from './measure';

/** The median frame of a scene, each the fastest of five, over frames that are spread over some seconds. */
const name = practiceScenes.find((scene) => scene === process.argv[2]) ?? 'paper-comets';
const scene = practiceScene(withScene({ ...plainPracticeGame, widthPx: 1920, heightPx: 1080 }, name));
const picture = createPicture(1920, 1080);
const drawn = (slot: number): number => {
  const startedMs = performance.now();
  scene.draw(picture, slot);
  return performance.now() - startedMs;
};
const fastestOfFive = (slot: number): number => Math.min(...Array.from({ length: 5 }, () => drawn(slot)));
for (let slot = 0; slot < 100; slot += 2) fastestOfFive(slot);
void shared(() => median(Array.from({ length: 60 }, (_, i) => fastestOfFive(100 + i * 10)))).then((ms) =>
  process.send?.(ms, () => process.exit(0)),
);
