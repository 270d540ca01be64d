import { z } from 'zod';
import type { Station } from './station';

/** What became of a due frame; the number is the code in the ledger. */
export const fates = ['pending', 'new', 'repeat', 'capture-miss', 'encode-miss', 'write-miss', 'missing'] as const;
export type Fate = (typeof fates)[number];
export const lossFates = ['capture-miss', 'encode-miss', 'write-miss'] as const satisfies readonly Fate[];

/** Why; the position is the code in the ledger. */
export const causes = [
  'none',
  'picker-late',
  'drive-slow',
  'drive-stalled',
  'queue-full',
  'size-late',
  'pool-empty',
  'no-source',
  'grab-late',
  'phase',
  'stalled',
  'still',
  'slow',
  'size-error',
  'encode-error',
  'not-found',
  'unknown',
  'pack-late',
] as const;
export type Cause = (typeof causes)[number];

/** The station that a cause is charged to; null where nothing is lost. */
export const causeStation: Record<Cause, Station | null> = {
  none: null,
  'picker-late': 'capture',
  'drive-slow': 'drive',
  'drive-stalled': 'drive',
  'queue-full': 'encode',
  'size-late': 'size',
  'pool-empty': 'capture',
  'no-source': 'capture',
  'grab-late': 'capture',
  phase: null,
  stalled: 'game',
  still: null,
  slow: 'game',
  'size-error': 'size',
  'encode-error': 'encode',
  'not-found': 'pack',
  unknown: null,
  'pack-late': 'pack',
};

export const fateCode = (fate: Fate): number => fates.indexOf(fate);
export const causeCode = (cause: Cause): number => causes.indexOf(cause);

/** A count for each name; what was stored before a name was known has none of it. */
export const countsBy = <const Name extends string>(names: readonly Name[]) =>
  z.preprocess(
    (given) =>
      typeof given === 'object' && given !== null
        ? { ...Object.fromEntries(names.map((name) => [name, 0])), ...given }
        : given,
    z.record(z.enum(names), z.int()),
  );
