import { z } from 'zod';
import { frameRateSchema } from './frameRate';

/** What was read back from a finished file. */
export const mediaFactsSchema = z.object({
  bytes: z.number(),
  formatName: z.string(),
  durationUs: z.number().nullable(),
  picture: z.object({
    codec: z.string(),
    profile: z.string(),
    level: z.number(),
    widthPx: z.int(),
    heightPx: z.int(),
    pixelFormat: z.string(),
    range: z.string(),
    matrix: z.string(),
    primaries: z.string(),
    transfer: z.string(),
    rate: frameRateSchema.nullable(),
    packets: z.int(),
    keys: z.int(),
    pictureBytes: z.number(),
    firstUs: z.number().nullable(),
    /** End of the last picture: its time stamp plus one period. */
    endUs: z.number().nullable(),
  }),
  lanes: z.array(
    z.object({
      codec: z.string(),
      name: z.string(),
      sampleRateHz: z.int(),
      channels: z.int(),
      bytes: z.number(),
      durationUs: z.number(),
      /** 0 where a version before did not count them. */
      packets: z.int().min(0).default(0),
    }),
  ),
});
export type MediaFacts = z.infer<typeof mediaFactsSchema>;
