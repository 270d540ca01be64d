import { dirname } from 'node:path';
import { z } from 'zod';
import { brokenTakeSchema, removalSchema, rewrapBodySchema, takeListSchema, takeSchema } from '@mellow/model';
import { openFolder } from '../files/openFolder';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

/** Takes as such. */
export function takeRoutes({ takes, recorder }: Services): Route[] {
  return [
    route(
      {
        method: 'get',
        path: '/takes',
        summary: 'All takes, newest first',
        query: z.object({ setup: z.string().max(40).optional() }),
        reply: takeListSchema,
      },
      ({ query }) => takes.list(query.setup),
    ),
    route(
      {
        method: 'get',
        path: '/broken-takes',
        summary: 'Takes that cannot be read, with the reason',
        reply: z.array(brokenTakeSchema),
      },
      () => takes.broken(),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/look-again',
        summary: 'Look again for a take whose drive was away, or read it back again',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => recorder.lookAgain(params.id),
    ),
    route(
      {
        method: 'get',
        path: '/takes/{id}',
        summary: 'One take with facts and verdict',
        params: idParams,
        reply: takeSchema,
      },
      ({ params }) => takes.get(params.id),
    ),
    route(
      {
        method: 'delete',
        path: '/takes/{id}',
        summary: 'Delete a take with every file that it made',
        params: idParams,
        reply: removalSchema,
      },
      ({ params }) => takes.remove(params.id),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/rewrap',
        summary: 'Copy the tracks into one file beside the take, a plain MP4 or a Matroska; parts are joined',
        params: idParams,
        body: rewrapBodySchema,
        reply: takeSchema,
      },
      ({ params, body }) => recorder.rewrap(params.id, body.into),
    ),
    route(
      {
        method: 'post',
        path: '/takes/{id}/show',
        summary: 'Show the folder of a take in the system’s file manager',
        params: idParams,
        reply: null,
      },
      async ({ params }) => openFolder(dirname(await takes.file(params.id))),
    ),
  ];
}
