import type { FrameRate } from '@mellow/model';

/** A timescale in which a frame is a whole number of ticks, as fine as players expect (common practice: 10 000 and more). */
export const pictureTimescale = (rate: FrameRate): number => rate.num * Math.max(1, Math.ceil(10_000 / rate.num));
