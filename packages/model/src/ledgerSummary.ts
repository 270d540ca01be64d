import { z } from 'zod';
import { causes, countsBy, fates } from './fate';
import { stationNames } from './station';

export const loadFigureSchema = z.object({
  usualMs: z.number(),
  busiestMs: z.number(),
  budgetMs: z.number(),
});
export type LoadFigure = z.infer<typeof loadFigureSchema>;

/** A ledger in figures. */
export const ledgerSummarySchema = z.object({
  due: z.int(),
  fates: countsBy(fates),
  causes: countsBy(causes),
  /** Pictures in the file: new + repeat + filled. */
  filed: z.int(),
  filledRows: z.int(),
  tailFrames: z.int(),
  longestHole: z.int(),
  presented: z.int().nullable(),
  passedOver: z.int().nullable(),
  notReached: z.int().nullable(),
  pacing: z.object({
    /** Pictures that had not been filed before, a second of the take. */
    newPerSecond: z.number(),
    longestStillMs: z.number(),
    filedFps: z.number(),
    sourceAgeMeanMs: z.number().nullable(),
    sourceAgeP99Ms: z.number().nullable(),
    /** Root mean square by which steps of game time between new pictures in a row miss the file's own; null: not told. */
    stepUnevenMs: z.number().nullable().default(null),
  }),
  loads: z.record(z.enum(stationNames), loadFigureSchema.nullable()),
  processor: z
    .object({ gameShare: z.number(), recorderShare: z.number(), othersShare: z.number(), cores: z.int() })
    .nullable(),
  encodeWaitingShare: z.number().nullable(),
  disturbed: z.boolean(),
  bytesQueuedPeak: z.number(),
  driveLatencyMsPeak: z.number(),
  lanePeakDbfs: z.array(z.number().nullable()),
});
export type LedgerSummary = z.infer<typeof ledgerSummarySchema>;
