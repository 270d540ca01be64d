import { encoderFacts } from '@mellow/core';
import type { Recipe } from '@mellow/model';

/** How many pictures are coded before one that is shown before them: B-frames may be referred to by one another, one level deep. */
export function reorderDelayOf({ encode }: Pick<Recipe, 'encode'>): number {
  if (encoderFacts[encode.encoder].mostBFrames === 0 || encode.bFrames === 0) return 0;
  return encode.bFrames > 1 ? 2 : 1;
}

/** So far behind its own time no picture is coded, whatever was lost between: what is told then was never set (AV_NOPTS_VALUE, or chance). */
const farBehind = 100_000n;

/**
 * Decode times of an encoder's packets, in due indices: they rise, and none is later than its picture's own time, or no MP4 can hold
 * them. An encoder that learns its delay from the pictures that come (x265) tells whatever stood in its memory for a take that ends
 * before; the packets are then counted from as many frames ahead as the file was told.
 * @param delay pictures of reordering, as the container knows it
 */
export function createDecodeTimes(delay: number): (pts: bigint, dts: bigint) => number {
  let last: number | null = null;
  return (pts, dts) => {
    const told = dts > pts || pts - dts > farBehind ? null : Number(dts);
    const next: number = last === null ? Number(pts) - delay : last + 1;
    last = told !== null && (last === null || told > last) ? told : next;
    return last;
  };
}
