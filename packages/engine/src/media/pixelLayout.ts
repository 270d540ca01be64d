/** Names of the library for the layouts of samples that encoders take here. */
export type LayoutName =
  'yuv420p' | 'yuvj420p' | 'yuv420p10le' | 'p010le' | 'nv12' | 'yuv444p' | 'gbrp' | 'bgr24' | 'bgr0';

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
  return { name, widthPx, heightPx, planes, bytes: Math.ceil(offset / alignment) * alignment };
}

/** A picture's planes over memory, as the library's calls take them. */
export const planesOver = (memory: SharedArrayBuffer, start: number, layout: PixelLayout): Buffer[] =>
  layout.planes.map((plane) => Buffer.from(memory as never, start + plane.offset, plane.strideBytes * plane.rows));

/** Value of black in each plane, limited or full range; red, green and blue are 0. */
export function blackOf(name: LayoutName, range: 'limited' | 'full'): number[] {
  const luma = range === 'full' ? 0 : 16;
  switch (name) {
    case 'nv12':
      return [luma, 128];
    case 'yuv420p':
    case 'yuvj420p':
    case 'yuv444p':
      return [luma, 128, 128];
    default:
      return [0, 0, 0];
  }
}
