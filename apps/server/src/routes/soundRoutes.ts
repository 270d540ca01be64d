import { z } from 'zod';
import {
  cameraDevicesSchema,
  heardLevelsSchema,
  lastHeardSchema,
  listeningSchema,
  soundDevicesSchema,
  soundSourceSchema,
} from '@mellow/model';
import { route, type Route } from '../http/route';
import type { Services } from '../services/services';

/** What can be heard and seen of a person, how loud it is, and what is held open while a take rolls. */
export function soundRoutes({ sounds, cameras, recorder }: Services): Route[] {
  return [
    route(
      {
        method: 'get',
        path: '/sounds',
        summary: 'Microphones, outputs and programs that can be heard on this PC now',
        reply: soundDevicesSchema,
      },
      () => sounds.list(),
    ),
    route({ method: 'get', path: '/cameras', summary: 'Cameras of this PC', reply: cameraDevicesSchema }, () =>
      cameras.list(),
    ),
    route(
      {
        method: 'post',
        path: '/sounds/levels',
        summary: 'Levels of sounds and lanes as they are now; listening goes on as long as somebody asks',
        body: listeningSchema,
        reply: heardLevelsSchema,
      },
      ({ body }) => sounds.levels(body),
    ),
    route(
      {
        method: 'post',
        path: '/sounds/last',
        summary: 'The last seconds of a lane that is listened to, as its sounds were mixed',
        body: lastHeardSchema,
        reply: 'audio/wav',
      },
      async ({ body, response }) =>
        void response.type('audio/wav').send(Buffer.from(await sounds.lastHeard(body.who, body.lane))),
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
  ];
}
