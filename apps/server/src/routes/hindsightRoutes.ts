import { watchBodySchema, watchingSchema } from '@mellow/model';
import type { Services } from '../services/services';
import { route, type Route } from './route';

/** Holding the last minutes while no take rolls. */
export function hindsightRoutes({ live, hindsight }: Services): Route[] {
  return [
    route(
      {
        method: 'post',
        path: '/hindsight/on',
        summary: 'Hold the last minutes of a setup while no take rolls',
        body: watchBodySchema,
        reply: watchingSchema.nullable(),
      },
      async ({ body }) => {
        await hindsight.watch(body.setupId);
        return live.state().watching;
      },
    ),
    route(
      {
        method: 'post',
        path: '/hindsight/off',
        summary: 'Hold nothing any more; what was held is let go',
        reply: null,
      },
      () => hindsight.unwatch(),
    ),
  ];
}
