import { z } from 'zod';
import { soundDevicesSchema, soundInputsSchema, soundLevelSchema, soundSourceSchema } from '@mellow/model';
import { route, type Route } from '../http/route';
import type { Services } from '../services/services';

/** What can be heard, how loud it is, and what is held open while a take rolls. */
export function soundRoutes({ sounds, recorder }: Services): Route[] {
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
    route(
      {
        method: 'post',
        path: '/sounds/levels',
        summary: 'Levels of sounds as they are now; listening goes on as long as somebody asks',
        body: z.strictObject({ sounds: soundInputsSchema }),
        reply: z.array(soundLevelSchema),
      },
      ({ body }) => sounds.levels(body.sounds),
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
