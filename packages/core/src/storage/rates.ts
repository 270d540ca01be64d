import type { FrameRate, Recipe } from '@mellow/model';
import { framesPerSecond } from '../units';

/** Formulas of common practice; k = 1000, GB = 10^9 bytes. */

export const bytesPerSecondOf = (bitsPerSecond: number): number => bitsPerSecond / 8;
/** MB/min = kb/s x 0.0075. */
export const bytesPerMinute = (bitsPerSecond: number): number => (bitsPerSecond / 8) * 60;
/** GB/h = kb/s x 0.00045. */
export const bytesPerHour = (bitsPerSecond: number): number => (bitsPerSecond / 8) * 3600;
/** Minutes per GB = 133 333 / kb/s. */
export const minutesPerGigabyte = (bitsPerSecond: number): number => 1e9 / bytesPerMinute(bitsPerSecond);
/** Hours that fit into free room. */
export const hoursOfRoom = (freeBytes: number, bitsPerSecond: number): number =>
  bitsPerSecond > 0 ? freeBytes / bytesPerHour(bitsPerSecond) : Infinity;
/** Mean bit rate of a finished piece. */
export const bitrateOf = (bytes: number, seconds: number): number => (seconds > 0 ? (bytes * 8) / seconds : 0);

/** Raw rate in bytes a second: W x H x fps x bits per pixel / 8; 4:2:0 has 12 bits a pixel. */
export function rawBytesPerSecond(widthPx: number, heightPx: number, rate: FrameRate, bitsPerPixel: number): number {
  return (widthPx * heightPx * framesPerSecond(rate) * bitsPerPixel) / 8;
}

/** Bits per pixel = b/s / (W x H x fps). */
export function bitsPerPixel(bitsPerSecond: number, widthPx: number, heightPx: number, rate: FrameRate): number {
  return bitsPerSecond / (widthPx * heightPx * framesPerSecond(rate));
}

/** Bits a second that a container adds: about 10 bytes a block in Matroska and 16 to 24 a sample in MP4 (from memory), tracks included. */
export function containerOverheadBits(recipe: Recipe): number {
  const blocks = framesPerSecond(recipe.rate) + recipe.lanes.length * 47;
  return blocks * (recipe.container === 'matroska' ? 10 : 20) * 8;
}
