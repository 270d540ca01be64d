import { containerWords } from '../recipe/words';
import type { Effort, Recipe } from '@mellow/model';
import { encoderFacts } from '../codec/encoders';
import { framesPerSecond } from '../units';

/** Pictures the encoder looks ahead at each effort; from memory. */
const lookAheadFrames: Record<Effort, number> = {
  lightest: 0,
  light: 0,
  middle: 10,
  thorough: 30,
  'most-thorough': 40,
};
/** Pictures held by threads that work on several at once; an assumption for a few cores. */
const threadFrames = 4;

/** Pictures that the encoder keeps before one leaves: its look-ahead, B-frames, and those its threads work on. */
export function heldFrames({ encode }: Recipe): number {
  const { place, keyDistance, efforts } = encoderFacts[encode.encoder];
  if (!keyDistance) return 1;
  if (encode.lowDelay) return 0;
  if (place !== 'software') return 2 + encode.bFrames;
  return (efforts.length ? lookAheadFrames[encode.effort] : 0) + encode.bFrames + threadFrames;
}

/**
 * Seconds of a take that are lost at most when the recorder dies: a cluster of 1 s, half a second on its way to the
 * drive, and the pictures the encoder holds (architecture: "if the recorder dies"). Null: all of it.
 */
export function secondsLostIfKilled(recipe: Recipe): number | null {
  if (!containerWords[recipe.container].survives) return null;
  return 1 + 0.5 + heldFrames(recipe) / framesPerSecond(recipe.rate);
}
