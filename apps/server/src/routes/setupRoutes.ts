import { type Hindsight, newSetupSchema, setupListSchema, setupPatchSchema, setupSchema } from '@mellow/model';
import { idParams, route, type Route } from './route';
import { problem } from '../errors/problem';
import type { Services } from '../services/services';

/** Setups as such. */
export function setupRoutes({ setups, takes, live, hindsight }: Services): Route[] {
  /** What is held of a setup follows how much of it is wanted; of one that is gone, nothing is held. */
  const holdAsWanted = async (setupId: string, wanted: Hindsight | null): Promise<void> => {
    if (live.state().watching?.setupId !== setupId) return;
    await (wanted ? hindsight.watch(setupId) : hindsight.unwatch());
  };
  return [
    route(
      { method: 'get', path: '/setups', summary: 'All setups with their recipe versions', reply: setupListSchema },
      () => setups.list(),
    ),
    route(
      {
        method: 'post',
        path: '/setups',
        summary: 'Begin a setup from a brief',
        body: newSetupSchema,
        reply: setupSchema,
        status: 201,
      },
      ({ body }) => setups.create(body),
    ),
    route(
      { method: 'get', path: '/setups/{id}', summary: 'One setup', params: idParams, reply: setupSchema },
      ({ params }) => setups.get(params.id),
    ),
    route(
      {
        method: 'patch',
        path: '/setups/{id}',
        summary: 'Change name, game or brief',
        params: idParams,
        body: setupPatchSchema,
        reply: setupSchema,
      },
      async ({ params, body }) => {
        const setup = await setups.change(params.id, body);
        if (body.hindsight !== undefined) await holdAsWanted(setup.id, setup.hindsight);
        return setup;
      },
    ),
    route(
      {
        method: 'delete',
        path: '/setups/{id}',
        summary: 'Remove a setup without takes',
        params: idParams,
        reply: null,
      },
      async ({ params }) => {
        await setups.get(params.id);
        const count = (await takes.list(params.id)).length;
        if (count)
          throw problem(
            'still-used',
            `The setup still has ${count} ${count === 1 ? 'trial' : 'trials'}. Delete them first; nothing recorded is removed along with a setup.`,
          );
        await holdAsWanted(params.id, null);
        await setups.remove(params.id);
      },
    ),
  ];
}
