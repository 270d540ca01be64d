import { createPicture } from './picture420';
import { drawStandInCamera } from './standInCamera';
import { readStrip, stripHeightPx } from './strip';

const sizes = [
  [320, 180],
  [320, 240],
  [640, 360],
  [640, 480],
  [1280, 720],
  [1920, 1080],
] as const;
const drawn = (widthPx: number, heightPx: number, k: number, fps = 30) => {
  const picture = createPicture(widthPx, heightPx);
  drawStandInCamera(picture, k, fps);
  return picture;
};
const stripOf = (widthPx: number, heightPx: number, k: number, fps = 30) =>
  readStrip(drawn(widthPx, heightPx, k, fps).y, widthPx, widthPx, heightPx, widthPx, heightPx);

describe('the stand-in camera', () => {
  it.each(sizes)('at %ix%i says in its strip which picture it is, and when', (widthPx, heightPx) => {
    if (heightPx <= stripHeightPx(widthPx) * 3) return expect(stripOf(widthPx, heightPx, 4)).toBeNull();
    for (const k of [0, 1, 29, 30, 1799, 108_000])
      expect(stripOf(widthPx, heightPx, k)).toEqual({
        number: k,
        // Fourteen bits of milliseconds.
        gameTimeMs: Math.floor((k * 1000) / 30) % 16_384,
      });
  });
  it('is the same picture each time, and another one than the last while it nods', () => {
    const bytes = (k: number): Buffer => Buffer.from(drawn(640, 360, k).y.slice(640 * 80, 640 * 280));
    expect(bytes(10)).toEqual(bytes(10));
    expect(Buffer.compare(bytes(10), bytes(18))).not.toBe(0);
  });
  it('keeps to limited range (ITU-R BT.709: 16 to 235, colour 16 to 240)', () => {
    const { y, u, v } = drawn(640, 360, 3);
    for (const [plane, most] of [
      [y, 235],
      [u, 240],
      [v, 240],
    ] as const) {
      expect(plane.reduce((least, value) => Math.min(least, value), 255)).toBeGreaterThanOrEqual(16);
      expect(plane.reduce((highest, value) => Math.max(highest, value), 0)).toBeLessThanOrEqual(most);
    }
  });
  it('paints colour where it paints light: no row of a figure has the wall’s colour', () => {
    const { y, u, v, widthPx } = drawn(640, 360, 0);
    // The shirt lies below the middle; its colour is no longer that of the wall in the corner.
    const at = (row: number, column: number) => ({
      y: y[row * widthPx + column],
      u: u[(row >> 1) * (widthPx / 2) + (column >> 1)],
      v: v[(row >> 1) * (widthPx / 2) + (column >> 1)],
    });
    const wall = at(60, 20);
    for (let row = 260; row < 300; row++) expect(at(row, 320)).not.toEqual(wall);
    expect(new Set([260, 270, 280].map((row) => JSON.stringify(at(row, 320)))).size).toBe(1);
  });
});
