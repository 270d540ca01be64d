import { z } from 'zod';
import { setupSchema } from './setup';
import { takeSchema } from './take';
import { machineSchema } from './machine';

/** The one JSON file that describes the demo: what was recorded, and where its files are beside it. */
export const demoManifestSchema = z.object({
  version: z.literal(1),
  madeAt: z.string(),
  madeOn: machineSchema,
  setups: z.array(setupSchema),
  takes: z.array(takeSchema),
});
export type DemoManifest = z.infer<typeof demoManifestSchema>;
