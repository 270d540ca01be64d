import {
  cameraDevicesSchema,
  heardLevelsSchema,
  lastHeardSchema,
  listeningSchema,
  soundDevicesSchema,
} from '@mellow/model';
import { route, type Route } from './route';
import type { Services } from '../services/services';

/** What can be heard and seen of a person and how loud it is. */
export function soundRoutes({ sounds, cameras }: Services): Route[] {
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
  ];
}
