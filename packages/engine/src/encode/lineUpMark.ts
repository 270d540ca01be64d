import type { Frame } from 'node-av/lib';
import { dueUs, leadInMarkIn } from '@mellow/core';
import type { Recipe } from '@mellow/model';
import type { PixelLayout } from '../native/pixelLayout';

/** The figures of the marks, five cells across and seven down with their edge. */
const figures: Record<number, readonly string[]> = {
  3: ['.....', '.###.', '...#.', '.###.', '...#.', '.###.', '.....'],
  2: ['.....', '.###.', '...#.', '.###.', '.#...', '.###.', '.....'],
  1: ['.....', '..#..', '..#..', '..#..', '..#..', '..#..', '.....'],
};
/** Height of the square as a part of the picture's. */
const share = 3;

/**
 * Draws the line-up mark of a frame, where it has one, over the middle of the picture that the encoder is given: white figures
 * on black, so that it is seen in any colour format.
 * @returns whether it has one
 */
export function drawLineUpMark(frame: Frame, n: number, recipe: Recipe, layout: PixelLayout): boolean {
  if (recipe.leadIn !== 'mark') return false;
  const figure = figures[leadInMarkIn(dueUs(recipe.rate, n), dueUs(recipe.rate, n + 1)) ?? 0];
  if (!figure) return false;
  const coded = recipe.encode.pixels !== 'rgb';
  const [black, white] = coded && recipe.encode.range === 'limited' ? [16, 235] : [0, 255];
  const { widthPx, heightPx } = layout;
  const cell = Math.max(2, Math.floor(heightPx / share / figure.length));
  const left = Math.floor((widthPx - cell * 5) / 2);
  const top = Math.floor((heightPx - cell * figure.length) / 2);
  layout.planes.forEach((plane, i) => {
    const [data, stride] = [frame.data?.[i], frame.linesize[i]];
    // Of a coded picture the first plane is its light.
    if (!data || !stride || (coded && i > 0)) return;
    const bytes = plane.lineBytes / widthPx;
    figure.forEach((line, row) => {
      for (let y = 0; y < cell; y++) {
        const at = (top + row * cell + y) * stride;
        [...line].forEach((sign, column) => {
          const from = at + (left + column * cell) * bytes;
          data.fill(inSamples(sign === '#' ? white : black, layout), from, from + cell * bytes);
        });
      }
    });
  });
  return true;
}

/** A value of eight bits as the layout keeps it: ten bits lie in two bytes, the lower first, at their upper or lower end. */
function inSamples(value: number, { name }: PixelLayout): number | Buffer {
  if (name === 'yuv420p10le') return Buffer.from([(value << 2) & 0xff, value >> 6]);
  return name === 'p010le' ? Buffer.from([0, value]) : value;
}
