/** Luma of a picture in memory: rows of `strideBytes`, 8 bits. */
export interface LumaPlane {
  luma: Uint8Array;
  strideBytes: number;
  widthPx: number;
  heightPx: number;
}

/** Constants of the index for 8 bits: (0.01 x 255)^2 and (0.03 x 255)^2. */
const c1 = 6.5025;
const c2 = 58.5225;

/**
 * Structural similarity of two lumas (Wang, Bovik, Sheikh and Simoncelli 2004, eq. 13), mean over windows of 8 by 8 that stand
 * 4 apart, as FFmpeg's filter of that name has it (docs/model.md, "The picture"). 1 for equal pictures; sides at least 8.
 */
export function ssimOfLuma(a: LumaPlane, b: LumaPlane): number {
  const columns = a.widthPx >> 2;
  const rows = a.heightPx >> 2;
  if (columns < 2 || rows < 2) throw new RangeError('SSIM needs pictures of at least 8 by 8');
  // Sums of 4 by 4 blocks, five a block: a, b, a^2 + b^2, a b; two rows of blocks are kept.
  let above = new Int32Array(columns * 4);
  let here = new Int32Array(columns * 4);
  let total = 0;
  for (let row = 0; row < rows; row++) {
    blockSums(here, a, b, row * 4, columns);
    if (row > 0)
      for (let i = 0; i + 4 < columns * 4; i += 4) {
        const sum = (k: number): number => above[i + k]! + above[i + 4 + k]! + here[i + k]! + here[i + 4 + k]!;
        total += ofWindow(sum(0), sum(1), sum(2), sum(3));
      }
    [above, here] = [here, above];
  }
  return total / ((columns - 1) * (rows - 1));
}

function blockSums(into: Int32Array, a: LumaPlane, b: LumaPlane, y: number, columns: number): void {
  const [la, lb] = [a.luma, b.luma];
  for (let column = 0; column < columns; column++) {
    let sa = 0;
    let sb = 0;
    let squares = 0;
    let products = 0;
    for (let dy = 0; dy < 4; dy++) {
      const atA = (y + dy) * a.strideBytes + column * 4;
      const atB = (y + dy) * b.strideBytes + column * 4;
      for (let dx = 0; dx < 4; dx++) {
        const va = la[atA + dx]!;
        const vb = lb[atB + dx]!;
        sa += va;
        sb += vb;
        squares += va * va + vb * vb;
        products += va * vb;
      }
    }
    into[column * 4] = sa;
    into[column * 4 + 1] = sb;
    into[column * 4 + 2] = squares;
    into[column * 4 + 3] = products;
  }
}

/** Of the sums over a window's 64 pixels; variances with 63 below the line. */
function ofWindow(sa: number, sb: number, squares: number, products: number): number {
  const mean = (sa * sb) / 4096;
  const meanSquares = (sa * sa + sb * sb) / 4096;
  const variances = (squares - (sa * sa + sb * sb) / 64) / 63;
  const covariance = (products - (sa * sb) / 64) / 63;
  return ((2 * mean + c1) * (2 * covariance + c2)) / ((meanSquares + c1) * (variances + c2));
}
