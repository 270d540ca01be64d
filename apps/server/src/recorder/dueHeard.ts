import { mostTakeS, type LiveTake, type Take } from '@mellow/model';

/** What was last heard of a take, and how long ago; null where it never was. */
export interface Heard {
  live: LiveTake;
  sinceS: number;
}

/** Frames that had been due when the recorder was lost: what was heard, or what the clock says since. */
export function dueHeard(take: Take, heard: Heard | null): number {
  if (heard?.live.takeId !== take.id || heard.live.due === 0) return 0;
  const { num, den } = take.recipe.rate;
  const runs = take.clock === 'real' && heard.live.pausedS === null;
  const sinceFrames = runs ? Math.round((heard.sinceS * num) / den) : 0;
  return Math.min(Math.round(((take.lengthS ?? mostTakeS) * num) / den), heard.live.due + sinceFrames);
}
