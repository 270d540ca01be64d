import type { FrameRate } from '@mellow/model';
import type { SizePx } from '../picture/shape';
import { framesPerSecond } from '../units';
import type { Level } from './levels';

/** Level, luma samples a second, luma samples a picture, kb/s, longest side (the VP9 project's table of levels, from memory). */
const rows: readonly (readonly [name: string, perSecond: number, perPicture: number, kbps: number, side: number])[] = [
  ['1', 829_440, 36_864, 200, 512],
  ['1.1', 2_764_800, 73_728, 800, 768],
  ['2', 4_608_000, 122_880, 1800, 960],
  ['2.1', 9_216_000, 245_760, 3600, 1344],
  ['3', 20_736_000, 552_960, 7200, 2048],
  ['3.1', 36_864_000, 983_040, 12_000, 2752],
  ['4', 83_558_400, 2_228_224, 18_000, 4160],
  ['4.1', 160_432_128, 2_228_224, 30_000, 4160],
  ['5', 311_951_360, 8_912_896, 60_000, 8384],
  ['5.1', 588_251_136, 8_912_896, 120_000, 8384],
  ['5.2', 1_176_502_272, 8_912_896, 180_000, 8384],
  ['6', 1_176_502_272, 35_651_584, 180_000, 16_832],
  ['6.1', 2_353_004_544, 35_651_584, 240_000, 16_832],
  ['6.2', 4_706_009_088, 35_651_584, 480_000, 16_832],
];

/** Lowest VP9 level for a format; its code is ten times the level. @returns null above level 6.2 */
export function vp9Level({ widthPx, heightPx }: SizePx, rate: FrameRate, kbps: number): Level | null {
  const pixels = widthPx * heightPx;
  const found = rows.find(
    ([, perSecond, perPicture, most, side]) =>
      pixels <= perPicture &&
      pixels * framesPerSecond(rate) <= perSecond &&
      kbps <= most &&
      Math.max(widthPx, heightPx) <= side,
  );
  return found ? { name: found[0], code: Math.round(Number(found[0]) * 10) } : null;
}
