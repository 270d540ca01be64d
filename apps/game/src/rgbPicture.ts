import type { Picture420 } from '@mellow/practice';

const clamp = (value: number): number => (value < 0 ? 0 : value > 255 ? 255 : value);

/**
 * Limited 4:2:0 of Rec. 709 to blue, green, red and a byte unused, as X11 shows it at 24 bits (ITU-R BT.709:
 * R = 1.164 (Y-16) + 1.793 Cr, G = ... - 0.213 Cb - 0.533 Cr, B = ... + 2.112 Cb, in 1/1024). One colour sample serves four pixels.
 */
export function toRgb({ widthPx, heightPx, y, u, v }: Picture420, into: Uint8Array): void {
  const half = widthPx >> 1;
  for (let row = 0; row < heightPx; row++) {
    const colours = (row >> 1) * half;
    for (let x = 0; x < widthPx; x++) {
      const light = (y[row * widthPx + x]! - 16) * 1192 + 512;
      const cb = u[colours + (x >> 1)]! - 128;
      const cr = v[colours + (x >> 1)]! - 128;
      const at = (row * widthPx + x) * 4;
      into[at] = clamp((light + 2163 * cb) >> 10);
      into[at + 1] = clamp((light - 218 * cb - 546 * cr) >> 10);
      into[at + 2] = clamp((light + 1836 * cr) >> 10);
    }
  }
}
