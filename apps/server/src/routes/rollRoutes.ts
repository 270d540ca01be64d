import { z } from 'zod';
import { keepBodySchema, keptClipSchema, rollSoonSchema, soundSourceSchema } from '@mellow/model';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

/** What is done while a take rolls. */
export function rollRoutes({ recorder, live, keepNow, rollSoon }: Services): Route[] {
  return [
    route(
      {
        method: 'post',
        path: '/setups/{id}/roll-soon',
        summary: 'Roll a full take in some seconds, whatever page is open by then',
        params: idParams,
        body: rollSoonSchema,
        reply: null,
      },
      ({ params, body }) => rollSoon.begin(params.id, body.inS, body.lengthS),
    ),
    route({ method: 'delete', path: '/roll-soon', summary: 'Let the countdown be', reply: null }, () =>
      rollSoon.letBe(),
    ),
    route(
      {
        method: 'post',
        path: '/recorder/stop',
        summary: 'Stop the rolling take early; it is closed and kept',
        reply: z.object({ recorder: z.string() }),
      },
      () => {
        recorder.stop();
        return { recorder: live.state().recorder };
      },
    ),
    route(
      {
        method: 'post',
        path: '/recorder/hold',
        summary: 'Open or close a sound of the rolling take that is heard while its key is held',
        body: z.strictObject({ sound: soundSourceSchema, open: z.boolean() }),
        reply: null,
      },
      ({ body }) => recorder.hold(body.sound, body.open),
    ),
    route(
      {
        method: 'post',
        path: '/recorder/pause',
        summary: 'Record nothing of the full take that rolls, or go on; its file has no gap',
        body: z.strictObject({ on: z.boolean() }),
        reply: null,
      },
      ({ body }) => recorder.pause(body.on),
    ),
    route(
      {
        method: 'post',
        path: '/recorder/keep',
        summary: 'Keep the last minutes of what rolls or is held as a clip',
        body: keepBodySchema,
        reply: keptClipSchema,
        status: 201,
      },
      ({ body }) => keepNow(body.lastS),
    ),
  ];
}
