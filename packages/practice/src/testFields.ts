import type { PracticeGame } from '@mellow/model';
import { fillRect, type Picture420 } from './picture420';
import { drawStrip, stripHeightPx } from './strip';

/** Length of the light once a second. */
export const flashUs = 100_000;
/** Where the flash stands, in source pixels: below the upper strip at the right edge. */
export function flashField(widthPx: number): { x: number; y: number; size: number } {
  return { x: widthPx - 56, y: stripHeightPx(widthPx) + 8, size: 48 };
}

/** Number strip and flash over a drawn picture, where the game is set to carry them. */
export function drawTestFields(target: Picture420, game: PracticeGame, slot: number, timeUs: number): void {
  if (!game.strip) return;
  drawStrip(target, slot, timeUs);
  const { x, y, size } = flashField(target.widthPx);
  const lit = timeUs % 1_000_000 < flashUs;
  fillRect(target, x, y, size, size, lit ? { y: 235, u: 128, v: 128 } : { y: 16, u: 128, v: 128 });
}
