/** A 4:2:0 picture, three planes in one piece of memory: luma, then the two colour planes of a quarter each. */
export interface Picture420 {
  widthPx: number;
  heightPx: number;
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
}

/** Bytes of one 4:2:0 picture: 12 bits a pixel. */
export const bytesOf420 = (widthPx: number, heightPx: number): number => (widthPx * heightPx * 3) / 2;

/** A picture over existing memory, both sides even. */
export function pictureOver(memory: ArrayBufferLike, offset: number, widthPx: number, heightPx: number): Picture420 {
  const luma = widthPx * heightPx;
  return {
    widthPx,
    heightPx,
    y: new Uint8Array(memory, offset, luma),
    u: new Uint8Array(memory, offset + luma, luma / 4),
    v: new Uint8Array(memory, offset + luma + luma / 4, luma / 4),
  };
}

export const createPicture = (widthPx: number, heightPx: number): Picture420 =>
  pictureOver(new ArrayBuffer(bytesOf420(widthPx, heightPx)), 0, widthPx, heightPx);

/** Limited-range Rec. 709 luma and colour difference (ITU-R BT.709, 8 bit). */
export interface Colour {
  y: number;
  u: number;
  v: number;
}

/** #RRGGBB to Y'CbCr: Y' = 0.2126 R + 0.7152 G + 0.0722 B; 219 steps above 16, colour 224 steps round 128. */
export function colourOf(hex: string): Colour {
  const value = parseInt(hex.slice(1), 16);
  const [r, g, b] = [(value >> 16) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255];
  const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
  return {
    y: Math.round(16 + 219 * luma),
    u: Math.round(128 + (224 * (b - luma)) / 1.8556),
    v: Math.round(128 + (224 * (r - luma)) / 1.5748),
  };
}

export function mixColours(a: Colour, b: Colour, share: number): Colour {
  const mix = (x: number, y: number) => Math.round(x + (y - x) * share);
  return { y: mix(a.y, b.y), u: mix(a.u, b.u), v: mix(a.v, b.v) };
}

/** Fills a rectangle, cut off at the picture's edges; x, y and sizes are rounded down to even for the colour planes. */
export function fillRect(
  picture: Picture420,
  x: number,
  y: number,
  width: number,
  height: number,
  colour: Colour,
): void {
  const x0 = Math.max(0, x);
  const x1 = Math.min(picture.widthPx, x + width);
  const y0 = Math.max(0, y);
  const y1 = Math.min(picture.heightPx, y + height);
  if (x1 <= x0) return;
  for (let row = y0; row < y1; row++) picture.y.fill(colour.y, row * picture.widthPx + x0, row * picture.widthPx + x1);
  const half = picture.widthPx / 2;
  for (let row = y0 >> 1; row < y1 >> 1; row++) {
    picture.u.fill(colour.u, row * half + (x0 >> 1), row * half + (x1 >> 1));
    picture.v.fill(colour.v, row * half + (x0 >> 1), row * half + (x1 >> 1));
  }
}
