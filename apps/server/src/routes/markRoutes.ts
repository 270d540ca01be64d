import { z } from 'zod';
import { markPatchSchema, markSchema, newMarkSchema, takeSchema } from '@mellow/model';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

const markParams = idParams.extend({ mark: z.string().min(1).max(40) });

/** Marks, set while a take rolls and changed afterwards. */
export function markRoutes({ marks }: Services): Route[] {
  return [
    route(
      {
        method: 'post',
        path: '/recorder/marks',
        summary: 'Mark this moment of the rolling take, with a note or without',
        body: newMarkSchema,
        reply: markSchema,
        status: 201,
      },
      ({ body }) => marks.add(body.note),
    ),
    route(
      {
        method: 'patch',
        path: '/takes/{id}/marks/{mark}',
        summary: 'Change the note of a mark',
        params: markParams,
        body: markPatchSchema,
        reply: takeSchema,
      },
      ({ params, body }) => marks.name(params.id, params.mark, body.note),
    ),
    route(
      {
        method: 'delete',
        path: '/takes/{id}/marks/{mark}',
        summary: 'Take a mark away; the take itself is not touched',
        params: markParams,
        reply: takeSchema,
      },
      ({ params }) => marks.remove(params.id, params.mark),
    ),
  ];
}
