import type { Lane } from '@mellow/model';

/** Whether a lane has as many sources as any. */
export const isMix = (lane: Lane | undefined, lanes: readonly Lane[]): boolean =>
  lane !== undefined && lanes.every((other) => other.sources.length <= lane.sources.length);

/** The lane with most sources first; the others keep their order. */
export function mixFirst(lanes: readonly Lane[]): Lane[] {
  const fullest = lanes.reduce((best, lane) => (lane.sources.length > best.sources.length ? lane : best));
  return [fullest, ...lanes.filter((lane) => lane !== fullest)];
}
