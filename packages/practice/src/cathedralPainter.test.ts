import * as fc from 'fast-check';
import { plainPracticeGame } from '@mellow/core';
import { createPainter } from './cathedralPainter';
import { referencePicture } from './cathedralReference.test-support';
import { cathedralTextures } from './cathedralTextures';
import { castColumns } from './cathedralView';
import { bytesOf420, pictureOver } from './picture420';

/** Even sides: whole steps of sixteen and four bytes, with a rest, and no multiple of four. */
const sizes = [
  [64, 36],
  [100, 52],
  [90, 50],
  [38, 22],
  [16, 8],
] as const;
const textures = new Map([0, 1].map((detail) => [detail, cathedralTextures(7, detail)]));

it('every byte is what the same picture is pixel by pixel, and none beside it is touched', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...sizes),
      fc.constantFrom(0, 1),
      fc.record({
        x: fc.double({ min: 1.2, max: 18.8, noNaN: true }),
        y: fc.double({ min: 1.2, max: 18.8, noNaN: true }),
        angle: fc.double({ min: -4, max: 4, noNaN: true }),
        darker: fc.constantFrom(0, 9),
      }),
      fc.double({ min: 0.4, max: 0.6, noNaN: true }),
      fc.array(fc.nat(100_000), { minLength: 1, maxLength: 2 }),
      ([widthPx, heightPx], detail, place, horizon, slots) => {
        const game = { ...plainPracticeGame, widthPx, heightPx, detail };
        const view = { ...place, horizon: Math.round(heightPx * horizon) };
        const painter = createPainter(game, textures.get(detail)!);
        const bytes = bytesOf420(widthPx, heightPx);
        const memory = new Uint8Array(bytes + 128).fill(77);
        const target = pictureOver(memory.buffer, 64, widthPx, heightPx);
        for (const slot of slots) {
          castColumns(painter.columns, textures.get(detail)!.light, widthPx, heightPx, view);
          painter.paint(target, view, slot);
          const wanted = referencePicture(game, textures.get(detail)!, painter.columns, view, slot);
          for (const plane of ['y', 'u', 'v'] as const)
            expect(Buffer.compare(Buffer.from(target[plane]), Buffer.from(wanted[plane]))).toBe(0);
        }
        expect([...memory.subarray(0, 64), ...memory.subarray(64 + bytes)].every((byte) => byte === 77)).toBe(true);
      },
    ),
    { numRuns: 20 },
  );
});
