import { z } from 'zod';
import {
  keepBodySchema,
  markPatchSchema,
  markSchema,
  newMarkSchema,
  setupSchema,
  leftAloneSchema,
  withGameSchema,
  soundSourceSchema,
  takeSchema,
  watchBodySchema,
  watchingSchema,
} from '@mellow/model';
import { idParams, route, type Route } from '../http/route';
import type { Services } from '../services/services';

const markParams = idParams.extend({ mark: z.string().min(1).max(40) });

/** What is done while a take rolls, and the marks that come of it. */
export function rollRoutes({ leftAlone, recorder, live, marks, keepNow, hindsight, withGame }: Services): Route[] {
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
        method: 'post',
        path: '/recorder/keep',
        summary: 'Keep the last minutes of what rolls or is held as a clip',
        body: keepBodySchema,
        reply: takeSchema,
        status: 201,
      },
      ({ body }) => keepNow(body.lastS),
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
