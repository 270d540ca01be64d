import { removalSchema, takeSchema } from '@mellow/model';
import { z } from 'zod';
import { idParams, route, type Route } from './route';
import type { Services } from '../services/services';

/** Files that a proven copy took the place of. */
export function discardRoutes({ discards }: Services): Route[] {
  return [
    route(
      {
        method: 'post',
        path: '/takes/{id}/discard',
        summary:
          'Let the copy of a take be the take, once it is proven to hold all of it; its own files go to the discards',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => discards.discard(params.id),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/bring-back',
        summary: 'Bring the own files of a take back from the discards',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => discards.bringBack(params.id),
    ),
    route(
      {
        method: 'delete',
        path: '/discards',
        summary: 'Empty the discards of one take, or of all',
        query: z.object({ take: idParams.shape.id.optional() }),
        reply: removalSchema,
      },
      ({ query }) => discards.empty(query.take),
    ),
  ];
}
