import type { Take } from '@mellow/model';

/** Discards lie for so long, so that what was given up by a slip can be brought back. */
export const discardDays = 7;
const dayMs = 86_400_000;

/** When a take's discards go by themselves; null where it has none. */
export const discardsGoAt = ({ discarded }: Pick<Take, 'discarded'>): Date | null =>
  discarded && new Date(Date.parse(discarded.at) + discardDays * dayMs);

/** Bytes that lie in a take's discards. */
export const discardBytes = ({ files }: Pick<Take, 'files'>): number =>
  files.reduce((sum, { role, bytes }) => sum + (role === 'discard' ? (bytes ?? 0) : 0), 0);
