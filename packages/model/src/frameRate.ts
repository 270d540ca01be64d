import { z } from 'zod';

/** A rational frame rate: `num / den` pictures a second, e.g. 60000/1001. Between 1 and 480 fps. */
export const frameRateSchema = z
  .object({ num: z.int().min(1).max(1_000_000), den: z.int().min(1).max(100_000) })
  .refine((rate) => rate.num / rate.den >= 1 && rate.num / rate.den <= 480, {
    message: 'A frame rate lies between 1 and 480 fps.',
  });
export type FrameRate = z.infer<typeof frameRateSchema>;
