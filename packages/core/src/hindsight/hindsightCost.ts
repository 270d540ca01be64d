import type { Hindsight, Recipe } from '@mellow/model';
import { hindsightBytes } from '../storage';
import { framesPerSecond } from '../units';

/** Bytes that wait at the most while everything goes as forecast: the length, and back to the key picture before it. */
export const heldBytesFor = (
  { lengthS }: Pick<Hindsight, 'lengthS'>,
  { encode, rate }: Pick<Recipe, 'encode' | 'rate'>,
  bitsPerSecond: number,
): number => hindsightBytes(bitsPerSecond, lengthS + encode.keyDistanceFrames / framesPerSecond(rate));

/** In memory a quarter of the PC's is never passed, whatever the pictures do. */
export const hindsightLimitBytes = (memoryBytes: number): number => Math.max(64e6, memoryBytes / 4);

/** "20 s", "1 min", "3 min", "1:30 min". */
export function hindsightWords(lengthS: number): string {
  if (lengthS < 60) return `${Math.round(lengthS)} s`;
  const whole = Math.round(lengthS);
  const rest = whole % 60;
  return rest ? `${Math.floor(whole / 60)}:${String(rest).padStart(2, '0')} min` : `${whole / 60} min`;
}
