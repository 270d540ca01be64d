/** Names of the library for the layouts of samples that encoders take here. */
export type LayoutName =
  'yuv420p' | 'yuvj420p' | 'yuv420p10le' | 'p010le' | 'nv12' | 'yuv444p' | 'yuv444p10le' | 'gbrp' | 'bgr24' | 'bgr0';

/** One plane of a picture in memory. */
export interface PlaneLayout {
  offset: number;
  /** Bytes from one line to the next: padded, so that the scaler may write past the end of a line. */
  strideBytes: number;
  /** Bytes of a line that are picture. */
  lineBytes: number;
  rows: number;
  /** Pixels of the picture that a sample stands for, across and down. */
  step: { x: number; y: number };
  bytesPerSample: number;
}

export interface PixelLayout {
  name: LayoutName;
  widthPx: number;
  heightPx: number;
  planes: PlaneLayout[];
  bytes: number;
}

type PlaneShape = readonly [bytesPerSample: number, stepX: number, stepY: number];
const shapes: Record<LayoutName, readonly PlaneShape[]> = {
  yuv420p: [
    [1, 1, 1],
    [1, 2, 2],
    [1, 2, 2],
  ],
  yuvj420p: [
    [1, 1, 1],
    [1, 2, 2],
    [1, 2, 2],
  ],
  yuv420p10le: [
    [2, 1, 1],
    [2, 2, 2],
    [2, 2, 2],
  ],
  p010le: [
    [2, 1, 1],
    [4, 2, 2],
  ],
  nv12: [
    [1, 1, 1],
    [2, 2, 2],
  ],
  yuv444p: [
    [1, 1, 1],
    [1, 1, 1],
    [1, 1, 1],
  ],
  yuv444p10le: [
    [2, 1, 1],
    [2, 1, 1],
    [2, 1, 1],
  ],
  gbrp: [
    [1, 1, 1],
    [1, 1, 1],
    [1, 1, 1],
  ],
  bgr24: [[3, 1, 1]],
  bgr0: [[4, 1, 1]],
};
const alignment = 64;

/** Where the planes of a picture lie. @param padded lines end on a multiple of 64 bytes; otherwise they follow one another */
export function pixelLayout(name: LayoutName, widthPx: number, heightPx: number, padded: boolean): PixelLayout {
  let offset = 0;
  const planes = shapes[name].map(([bytesPerSample, x, y]): PlaneLayout => {
    const lineBytes = Math.ceil(widthPx / x) * bytesPerSample;
    const strideBytes = padded ? Math.ceil(lineBytes / alignment) * alignment : lineBytes;
    const rows = Math.ceil(heightPx / y);
    const plane = { offset, strideBytes, lineBytes, rows, step: { x, y }, bytesPerSample };
    offset += strideBytes * rows;
    return plane;
  });
  // The last line's end may be overrun as well, and the next picture begins behind it.
  const overrun = padded ? alignment : 0;
  return { name, widthPx, heightPx, planes, bytes: Math.ceil(offset / alignment) * alignment + overrun };
}

/** A picture's planes over memory, as the library's calls take them. */
export const planesOver = (memory: SharedArrayBuffer, start: number, layout: PixelLayout): Buffer[] =>
  layout.planes.map((plane) => Buffer.from(memory as never, start + plane.offset, plane.strideBytes * plane.rows));

/** Black in each plane, as the bytes of its samples; red, green and blue are 0. */
export function blackOf(name: LayoutName, range: 'limited' | 'full'): Buffer[] {
  const luma = range === 'full' ? 0 : 16;
  const words = (...samples: number[]): Buffer[] => samples.map((sample) => Buffer.from([sample & 255, sample >> 8]));
  switch (name) {
    case 'nv12':
      return [Buffer.from([luma]), Buffer.from([128])];
    case 'yuv420p':
    case 'yuvj420p':
    case 'yuv444p':
      return [Buffer.from([luma]), Buffer.from([128]), Buffer.from([128])];
    case 'yuv420p10le':
    case 'yuv444p10le':
      return words(luma * 4, 512, 512);
    case 'p010le':
      return words(luma * 256, 512 * 64);
    default:
      return [0, 0, 0].map((sample) => Buffer.from([sample]));
  }
}
