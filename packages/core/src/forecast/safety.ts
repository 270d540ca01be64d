import { isStriped } from '../storage';
import type { Effort, Recipe } from '@mellow/model';
import { lookAheadQuiet } from '../recipe/quiet';
import { encoderFacts } from '../codec/encoders';
import { framesPerSecond } from '../units';

/**
 * Pictures that encoders in software look ahead, and what they hold of their own besides; as counted when 130 frames were given
 * to each without a clock, at 1 to 16 threads (docs/model.md, "Work").
 */
const avcLookAhead: Record<Effort, number> = { lightest: 0, light: 0, middle: 10, thorough: 30, 'most-thorough': 40 };
const hevcLookAhead: Record<Effort, number> = { lightest: 5, light: 10, middle: 15, thorough: 15, 'most-thorough': 20 };
const av1Held = 27;
const av1LeastHeld = 10;

/** Threads that take pictures side by side where the encoder chooses: AVC half as many again as cores; HEVC few (from memory). */
const avcThreads = (cores: number): number => Math.floor(cores * 1.5);
const hevcThreads = (cores: number): number => (cores >= 16 ? 5 : cores >= 8 ? 3 : cores >= 4 ? 2 : 1);

/** Pictures that the encoder keeps before one leaves: its look-ahead, B-frames, and those its threads work on. */
export function heldFrames({ encode }: Recipe, cores: number): number {
  const { place, keyDistance } = encoderFacts[encode.encoder];
  const { effort, bFrames, lowDelay, threads } = encode;
  if (!keyDistance) return 1;
  if (lowDelay) return 0;
  if (place !== 'software') return 2 + bFrames;
  const told = lookAheadQuiet({ encode }) === null ? encode.lookAheadFrames : null;
  // It needs its groups of eight whatever it is told.
  if (encode.encoder === 'av1-software') return told === null ? av1Held : Math.max(av1LeastHeld, told);
  if (encode.encoder === 'vp9-software') return told ?? 0;
  if (encode.encoder === 'hevc-software')
    return (told ?? hevcLookAhead[effort]) + 2 + bFrames + (threads || hevcThreads(cores));
  const ahead = told ?? avcLookAhead[effort];
  const side = threads || avcThreads(cores);
  const waiting = side > 1 ? side + bFrames : 0;
  return 1 + waiting + (ahead || bFrames);
}

/**
 * Seconds of a take that are lost at most when the recorder dies: what may wait in memory before frames are refused
 * (`mostUnwrittenUs`, and what one wait for a due adds), and the pictures the encoder holds (docs/model.md, "Work"); of a striped
 * take a second more, as its writers flush on their own ("Striping"). A plain MP4 is built anew from its packets.
 */
export const secondsLostIfKilled = (recipe: Recipe, cores: number): number =>
  2 + (isStriped(recipe) ? 1 : 0) + heldFrames(recipe, cores) / framesPerSecond(recipe.rate);
