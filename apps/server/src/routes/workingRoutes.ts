import { workingBodySchema, workingPlaceSchema } from '@mellow/model';
import { route, type Route } from './route';
import type { Services } from '../services/services';

/** The folder for what is only made in between. */
export function workingRoutes({ working, recorder }: Services): Route[] {
  return [
    route(
      {
        method: 'get',
        path: '/working',
        summary: 'The working folder, and what the copies for playing take there',
        reply: workingPlaceSchema,
      },
      () => working.state(),
    ),
    route(
      {
        method: 'put',
        path: '/working',
        summary: 'Choose a folder of the list as the working folder, or none of its own',
        body: workingBodySchema,
        reply: workingPlaceSchema,
      },
      ({ body }) => recorder.beside(() => working.set(body.driveId)),
    ),
    route(
      {
        method: 'delete',
        path: '/working/copies',
        summary: 'Remove the copies for playing; they are made anew when they are asked for',
        reply: workingPlaceSchema,
      },
      () => working.emptyCopies(),
    ),
  ];
}
