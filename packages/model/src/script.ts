import { z } from 'zod';

const span = { fromDue: z.int().min(0), toDue: z.int().min(0) };

/**
 * A scripted event, of the driven clock but for threads that fail: from `fromDue` up to, not including, `toDue`.
 * Times are virtual microseconds; the recorder, the encoder and the file are real.
 */
export const scriptEventSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('picker-wakes-late'), ...span, delayUs: z.int() }),
  z.object({ kind: z.literal('size-takes'), ...span, serviceUs: z.int() }),
  z.object({ kind: z.literal('encode-takes'), ...span, serviceUs: z.int() }),
  z.object({ kind: z.literal('drive-waits'), ...span, bytesWaiting: z.number(), lastWriteAgoUs: z.int() }),
  z.object({ kind: z.literal('pool-is-empty'), ...span }),
  z.object({ kind: z.literal('grab-fails'), ...span }),
  z.object({ kind: z.literal('grab-takes'), ...span, serviceUs: z.int() }),
  z.object({ kind: z.literal('game-presents-nothing'), ...span }),
  z.object({ kind: z.literal('game-starts-at'), ...span }),
  z.object({ kind: z.literal('size-fails'), ...span }),
  z.object({ kind: z.literal('encode-fails'), ...span }),
  /** Pack leaves the packet out of the file. */
  z.object({ kind: z.literal('pack-omits'), ...span }),
  /** A thread throws, or does nothing for a while, in the middle of its work. */
  z.object({
    kind: z.literal('thread-fails'),
    ...span,
    thread: z.string(),
    at: z.enum(['begin', 'frame', 'end']),
    /** Seconds that it hangs for; null: it throws. */
    hangS: z.number().min(0).nullable(),
  }),
]);
export type ScriptEvent = z.infer<typeof scriptEventSchema>;
