import type { PracticeGame } from '@mellow/model';
import { coarseFrom, colours, darkened, grainOf, groundSpan } from './cathedralPainter';
import { wallRowMask, type CathedralTextures } from './cathedralTextures';
import type { Columns, View } from './cathedralView';
import { createPicture, type Picture420 } from './picture420';

/** The picture that the kernel paints, pixel by pixel and in no hurry. */
export function referencePicture(
  game: PracticeGame,
  textures: CathedralTextures,
  columns: Columns,
  view: View,
  slot: number,
): Picture420 {
  const { widthPx, heightPx } = game;
  const half = widthPx >> 1;
  const picture = createPicture(widthPx, heightPx);
  const [luma, tone, grain] = [darkened(), colours(), grainOf(game)];
  const unit = widthPx % 4 ? 2 : 4;
  const isGround = (row: number, above: boolean, c: number): boolean =>
    above ? row < columns.edges[c]! : row >= columns.edges[half + c]!;
  const wallAt = (row: number, c: number): number =>
    columns.texel[c]! + (((columns.startTexel[c]! + row * columns.texelsPerRow[c]!) >> 9) & wallRowMask);

  for (let y = 0; y < heightPx; y++) {
    const row = y & ~1;
    const above = row < view.horizon;
    const span = groundSpan(view, row, above, half);
    const level = textures.levels[above ? 1 : 0]![span.distance < coarseFrom ? 0 : 1]!;
    for (let x = 0; x < widthPx; x++) {
      const c = x >> 1;
      let value: number;
      if (isGround(row, above, c)) {
        const gx = (span.fromX + c * span.stepX) | 0;
        const gy = (span.fromY + c * span.stepY) | 0;
        value =
          (span.shade << 8) +
          textures.ground[
            level.base +
              (((gy >> level.rowShift) & level.rowMask) |
                ((gx >> level.blockShift) & level.columnMask) |
                ((gy >> level.blockShift) & 56) |
                ((gx >> level.texelShift) & 7))
          ]!;
      } else value = columns.shade[c]! + textures.wallLuma[wallAt(row, c)]!;
      const from = (Math.imul(slot * 4099 + y, 0x9e3779b1) >>> 9) % ((grain.length - widthPx) / unit);
      picture.y[y * widthPx + x] = luma[value]! + grain[from * unit + x]!;
    }
  }

  for (let y = 0; y < heightPx / 2; y++)
    for (let x = 0; x < half; x++) {
      const [row, c] = [(y & ~1) * 2, x & ~1];
      const above = row < view.horizon;
      const wall = isGround(row, above, c) ? null : wallAt(row, c);
      const at = y * half + x;
      picture.u[at] = wall === null ? (above ? 129 : 124) : tone[columns.shade[c]! + textures.wallU[wall]!]!;
      picture.v[at] = wall === null ? (above ? 129 : 132) : tone[columns.shade[c]! + textures.wallV[wall]!]!;
    }
  return picture;
}
