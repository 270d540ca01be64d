import {
  chosenSampleSchema,
  draftBodySchema,
  newTrialSchema,
  recipeVersionSchema,
  setupSchema,
  takeSchema,
} from '@mellow/model';
import type { Services } from '../services/services';
import { idParams, route, type Route } from './route';

/** The recipe of a setup, its versions, and the takes that it is tried with. */
export function recipeRoutes({ setups, samples, recorder, live }: Services): Route[] {
  return [
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
