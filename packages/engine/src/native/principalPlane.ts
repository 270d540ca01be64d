import type { LumaPlane } from '@mellow/core';
import type { LayoutName } from './pixelLayout';

/** Where luma, or for red, green and blue the green samples, lie: bytes from one to the next, and before the first. */
const packed: Partial<Record<LayoutName | string, { step: number; first: number }>> = {
  bgr24: { step: 3, first: 1 },
  rgb24: { step: 3, first: 1 },
  bgr0: { step: 4, first: 1 },
  bgra: { step: 4, first: 1 },
  rgb0: { step: 4, first: 1 },
  '0rgb': { step: 4, first: 2 },
  '0bgr': { step: 4, first: 2 },
};

/** Ten bits in two bytes, the lower first: how far right the upper eight lie. Pictures are compared by those. */
const tenBits: Partial<Record<LayoutName | string, number>> = { yuv420p10le: 2, p010le: 8 };

/**
 * The samples by which pictures are compared, without padding: luma; green where there is none. Planar layouts have them first.
 * @param strideBytes bytes from one line of the first plane to the next
 */
export function principalPlane(
  layout: string,
  firstPlane: Uint8Array,
  strideBytes: number,
  widthPx: number,
  heightPx: number,
): LumaPlane {
  const luma = new Uint8Array(widthPx * heightPx);
  const place = packed[layout];
  const shift = tenBits[layout];
  for (let y = 0; y < heightPx; y++) {
    const from = y * strideBytes;
    if (shift !== undefined)
      for (let x = 0; x < widthPx; x++)
        luma[y * widthPx + x] = ((firstPlane[from + x * 2] ?? 0) | ((firstPlane[from + x * 2 + 1] ?? 0) << 8)) >> shift;
    else if (!place) luma.set(firstPlane.subarray(from, from + widthPx), y * widthPx);
    else for (let x = 0; x < widthPx; x++) luma[y * widthPx + x] = firstPlane[from + x * place.step + place.first] ?? 0;
  }
  return { luma, strideBytes: widthPx, widthPx, heightPx };
}
