import { z } from 'zod';
import { leftAloneSchema, setupSchema, withGameSchema } from '@mellow/model';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

/** Programs that a full take begins and ends with, and those that are never recorded by themselves. */
export function gameRoutes({ leftAlone, withGame }: Services): Route[] {
  return [
    route(
      {
        method: 'get',
        path: '/left-alone',
        summary: 'Programs that are never recorded by themselves',
        reply: leftAloneSchema,
      },
      () => leftAlone.names(),
    ),
    route(
      {
        method: 'put',
        path: '/left-alone',
        summary: 'Choose the programs that are never recorded by themselves',
        body: z.strictObject({ names: leftAloneSchema }),
        reply: leftAloneSchema,
      },
      ({ body }) => leftAlone.set(body.names),
    ),
    route(
      {
        method: 'put',
        path: '/setups/{id}/with-game',
        summary: 'Let a full take begin and end with a program',
        params: idParams,
        body: z.strictObject({ withGame: withGameSchema.nullable() }),
        reply: setupSchema,
      },
      ({ params, body }) => withGame.set(params.id, body.withGame),
    ),
    route(
      { method: 'get', path: '/programs', summary: 'Programs that run on this PC now', reply: z.array(z.string()) },
      () => withGame.programs(),
    ),
  ];
}
