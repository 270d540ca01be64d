import type { Request, Response } from 'express';
import { z } from 'zod';
import { demoStateSchema, liveStateSchema, logLineSchema, runningJobSchema } from '@mellow/model';
import { problem } from '../errors/problem';
import type { LiveHub } from '../program/liveHub';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

/** What the application itself is doing: its demo, its log, its work, its state. */
export function programRoutes({ demo, live, log, setups, jobs }: Services): Route[] {
  return [
    route({ method: 'get', path: '/demo', summary: 'Whether the demo is here', reply: demoStateSchema }, () =>
      demo.state(),
    ),
    route(
      { method: 'delete', path: '/demo', summary: 'Remove the demo with everything in it', reply: null },
      async () => {
        const take = live.state().take;
        const setup = take ? await setups.get(take.setupId) : null;
        if (setup?.demo)
          throw problem('recorder-busy', 'A trial of a demo setup is rolling. Stop it first, then the demo can go.');
        await demo.remove();
      },
    ),
    route(
      { method: 'get', path: '/log', summary: 'Events of the application, newest last', reply: z.array(logLineSchema) },
      () => log.recent(),
    ),
    route(
      {
        method: 'get',
        path: '/jobs',
        summary: 'Work that runs now, with its progress',
        reply: z.array(runningJobSchema),
      },
      () => jobs.list(),
    ),
    route(
      {
        method: 'delete',
        path: '/jobs/{id}',
        summary: 'End work that runs; what it was making is thrown away',
        params: idParams,
        reply: null,
      },
      ({ params }) => jobs.cancel(params.id),
    ),
    route({ method: 'get', path: '/state', summary: 'What the recorder is doing now', reply: liveStateSchema }, () =>
      live.state(),
    ),
    route(
      {
        method: 'get',
        path: '/live',
        summary: 'What the recorder is doing, as server-sent events',
        reply: 'text/event-stream',
      },
      ({ request, response }) => streamState(live, request, response),
    ),
  ];
}

/** Every change of the live state, until the reader goes. */
function streamState(live: LiveHub, request: Request, response: Response): void {
  response.writeHead(200, {
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-store',
    Connection: 'keep-alive',
  });
  let waiting = false;
  const tell = (): void => {
    // A slow reader gets the latest state only: nothing is sent while the last one is still on its way.
    if (waiting) return;
    if (!response.write(`data: ${JSON.stringify(live.state())}\n\n`)) {
      waiting = true;
      response.once('drain', () => {
        waiting = false;
        tell();
      });
    }
  };
  tell();
  const stop = live.listen(tell);
  const beat = setInterval(() => response.write(': alive\n\n'), 15_000);
  request.on('close', () => {
    stop();
    clearInterval(beat);
  });
}
