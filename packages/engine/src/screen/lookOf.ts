import { createHash } from 'node:crypto';
import type { ScreenLook } from '@mellow/model';

/** Widest a look is made. */
const widestPx = 320;

/** Scales down by means over blocks, and puts it into a bitmap (24 bits, bottom row first). */
export function lookOf(bgr0: Uint8Array, widthPx: number, heightPx: number): ScreenLook {
  const step = Math.max(1, Math.ceil(widthPx / widestPx));
  const [across, down] = [Math.floor(widthPx / step), Math.max(1, Math.floor(heightPx / step))];
  const stride = (across * 3 + 3) & ~3;
  const bitmap = Buffer.alloc(54 + stride * down);
  bitmap.write('BM');
  bitmap.writeUInt32LE(bitmap.length, 2);
  bitmap.writeUInt32LE(54, 10);
  bitmap.writeUInt32LE(40, 14);
  bitmap.writeInt32LE(across, 18);
  bitmap.writeInt32LE(down, 22);
  bitmap.writeUInt16LE(1, 26);
  bitmap.writeUInt16LE(24, 28);
  let brightest = 0;
  for (let row = 0; row < down; row++)
    for (let column = 0; column < across; column++) {
      let [blue, green, red] = [0, 0, 0];
      for (let dy = 0; dy < step; dy++)
        for (let dx = 0; dx < step; dx++) {
          const at = ((row * step + dy) * widthPx + column * step + dx) * 4;
          blue += bgr0[at] ?? 0;
          green += bgr0[at + 1] ?? 0;
          red += bgr0[at + 2] ?? 0;
        }
      const n = step * step;
      bitmap.set([blue / n, green / n, red / n], 54 + (down - 1 - row) * stride + column * 3);
      brightest = Math.max(brightest, (0.2126 * red + 0.7152 * green + 0.0722 * blue) / n);
    }
  return {
    widthPx,
    heightPx,
    brightest,
    // Of all pixels: a clock that ticks in a corner is a picture that moves.
    mark: createHash('sha1').update(bgr0).digest('base64url').slice(0, 16),
    image: `data:image/bmp;base64,${bitmap.toString('base64')}`,
  };
}
