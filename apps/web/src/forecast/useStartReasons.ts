import { useMemo } from 'react';
import { startWithin, type ForecastContext, type Reason } from '@mellow/core';
import type { Setup } from '@mellow/model';

/**
 * Why the starting recipe of a setup is what it is. Finding it may take half a second on a weak machine, so it is looked for again only
 * where what it depends on differs: of a drive's room whole gigabytes.
 */
export function useStartReasons(
  { brief, game }: Pick<Setup, 'brief' | 'game'>,
  { machine, drives }: ForecastContext,
  driveId: string,
): Reason[] {
  const key = JSON.stringify([
    brief,
    game,
    machine,
    driveId,
    drives.map(({ freeBytes, takesBytes: _t, tests: _n, ...drive }) => ({
      ...drive,
      freeGb: freeBytes === null ? null : Math.floor(freeBytes / 1e9),
    })),
  ]);
  // The key holds all of it.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  return useMemo(() => startWithin(brief, { game, machine, drives, driveId }).reasons, [key]);
}
