import { keySettingsSchema, keyStateSchema } from '@mellow/model';
import { route, type Route } from './route';
import type { Services } from '../services/services';

/** Keys that are heard outside the page. */
export function keyRoutes({ keys }: Services): Route[] {
  return [
    route(
      {
        method: 'get',
        path: '/keys',
        summary: 'Keys outside the page, and whether they are heard',
        reply: keyStateSchema,
      },
      () => keys.state(),
    ),
    route(
      {
        method: 'put',
        path: '/keys',
        summary: 'Choose keys, and whether they are heard',
        body: keySettingsSchema,
        reply: keyStateSchema,
      },
      ({ body }) => keys.set(body),
    ),
  ];
}
