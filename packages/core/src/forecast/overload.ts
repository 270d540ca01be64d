import type { Recipe, Station } from '@mellow/model';
import { encodeQueueFrames, sizeQueueFrames } from '../path';
import { periodUs } from '../units';
import type { Forecast } from './forecast';
import { waitingLimitBytes } from './pathOf';

/** A station that is asked for more than it can do in the mean: it loses frames for as long as that lasts. */
export interface Overload {
  station: Station;
  /** Need over capacity, above 1. */
  share: number;
  /** Frames lost of those that are due, once its buffer is full: 1 - 1/share (D/D/1/K). */
  lostShare: number;
  /** Seconds until what may wait for it has no room left. */
  untilFullS: number;
}

/**
 * Steady overload by arithmetic, before anything is simulated: what each station is asked for in the mean against what it can do
 * (docs/model.md, "Simulation").
 */
export function steadyOverloads(
  recipe: Recipe,
  { work, bits, speed }: Pick<Forecast, 'work' | 'bits' | 'speed'>,
): Overload[] {
  const period = periodUs(recipe.rate);
  const ofFrames = (station: Station, us: number, buffer: number): Overload[] => {
    const share = us / period;
    if (share <= 1) return [];
    const lostShare = 1 - 1 / share;
    return [{ station, share, lostShare, untilFullS: ((buffer / lostShare) * period) / 1e6 }];
  };
  const needed = bits.value / 8;
  const available = speed?.availableBytesPerSecond ?? null;
  const drive: Overload[] =
    available !== null && needed > available
      ? [
          {
            station: 'drive',
            share: needed / available,
            lostShare: 1 - available / needed,
            untilFullS: waitingLimitBytes / (needed - available),
          },
        ]
      : [];
  return [
    ...ofFrames('capture', work.grabUs.value, 1),
    ...ofFrames('size', work.size?.value ?? 0, sizeQueueFrames),
    ...ofFrames('encode', work.encode.value / (work.parallelism ?? 1), encodeQueueFrames),
    ...ofFrames('pack', work.packUs.value, encodeQueueFrames),
    ...drive,
  ];
}
