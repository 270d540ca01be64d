import { formatBytes, roomLeftS, roomWarningDue, takeName, capitalised } from '@mellow/core';
import type { LiveTake, Take } from '@mellow/model';
import type { LiveHub } from '../program/liveHub';

/** Says when the room for a take runs out: at ten minutes and at two. */
export function createRoomWatch(
  live: Pick<LiveHub, 'notify'>,
  take: Take,
): (told: Pick<LiveTake, 'roomBytes' | 'bytesWritten' | 'elapsedUs'>) => void {
  let warnedS: number | null = null;
  return (told) => {
    const leftS = roomLeftS(told);
    const due = roomWarningDue(leftS, warnedS);
    // A take that ends before the room does needs nothing said.
    const endsS = take.lengthS === null ? Infinity : take.lengthS - told.elapsedUs / 1e6;
    if (due === null || leftS === null || endsS < leftS) return;
    warnedS = due;
    const minutes = Math.max(1, Math.round(leftS / 60));
    live.notify(
      'loss',
      `Room for ${minutes === 1 ? 'a minute' : `${minutes} minutes`} is left`,
      `${capitalised(takeName(take))} is closed whole when it ends: ${formatBytes(told.roomBytes ?? 0)} are free. Delete or move something on its drive to go on for longer.`,
      null,
    );
  };
}
