import {
  chosenSampleSchema,
  type Hindsight,
  draftBodySchema,
  newSetupSchema,
  newTrialSchema,
  recipeVersionSchema,
  setupListSchema,
  setupPatchSchema,
  setupSchema,
  takeSchema,
} from '@mellow/model';
import { idParams, route, type Route } from '../http/route';
import { problem } from '../http/problem';
import type { Services } from '../services/services';

export function setupRoutes({ setups, samples, takes, recorder, live, hindsight }: Services): Route[] {
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
    route(
      {
        method: 'put',
        path: '/setups/{id}/draft',
        summary: 'Set the draft of the recipe',
        params: idParams,
        body: draftBodySchema,
        reply: setupSchema,
      },
      ({ params, body }) => setups.setDraft(params.id, body.recipe),
    ),
    route(
      {
        method: 'post',
        path: '/setups/{id}/undo',
        summary: 'Take the last change of the draft back',
        params: idParams,
        reply: setupSchema,
      },
      ({ params }) => setups.undo(params.id),
    ),
    route(
      {
        method: 'post',
        path: '/setups/{id}/keep',
        summary: 'Give the draft a number, so that it can be returned to',
        params: idParams,
        reply: recipeVersionSchema,
      },
      async ({ params }) => {
        const version = await setups.version(params.id);
        live.dataChanged();
        return version;
      },
    ),
    route(
      {
        method: 'post',
        path: '/setups/{id}/trials',
        summary: 'Make a trial with the draft, a sample of its source, or roll a full take',
        params: idParams,
        body: newTrialSchema,
        reply: takeSchema,
        status: 201,
      },
      ({ params, body }) => recorder.startTrial(params.id, body.lengthS, body.kind),
    ),
    route(
      {
        method: 'put',
        path: '/setups/{id}/sample',
        summary: 'Let trials play a sample, or the source itself',
        params: idParams,
        body: chosenSampleSchema,
        reply: setupSchema,
      },
      ({ params, body }) => recorder.beside(() => samples.choose(params.id, body)),
    ),
  ];
}
