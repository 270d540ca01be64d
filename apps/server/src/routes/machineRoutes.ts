import { z } from 'zod';
import { machineSheetText } from '@mellow/core';
import {
  machinePatchSchema,
  machineSchema,
  machineSheetSchema,
  screenLookSchema,
  screensSchema,
  sourceSchema,
} from '@mellow/model';
import { thisMachine } from '../machine/machineFacts';
import type { Services } from '../services/services';
import { aside } from './aside';
import { idParams, route, type Route } from './route';

/** This PC, what can be recorded on it, and the simulated machines. */
export function machineRoutes(services: Services): Route[] {
  const { setups, machines, contexts, screens } = services;
  return [
    route({ method: 'get', path: '/machine', summary: 'What the system tells of this PC', reply: machineSchema }, () =>
      thisMachine(),
    ),
    route(
      {
        method: 'get',
        path: '/screens',
        summary: 'Displays and windows that can be recorded, as they are now',
        reply: screensSchema,
      },
      () => screens.list(),
    ),
    route(
      {
        method: 'post',
        path: '/screens/look',
        summary: 'A small picture of what a source shows now',
        body: sourceSchema,
        reply: screenLookSchema,
      },
      ({ body }) => screens.look(body),
    ),
    route(
      {
        method: 'get',
        path: '/machines',
        summary: 'This PC and the simulated machines, with what is known of each',
        reply: z.array(machineSheetSchema),
      },
      () => machines.list(),
    ),
    route(
      {
        method: 'patch',
        path: '/machines/{id}',
        summary: 'Change what a person knows of a machine',
        params: idParams,
        body: machinePatchSchema,
        reply: machineSheetSchema,
      },
      ({ params, body }) => machines.change(params.id, body),
    ),
    route(
      {
        method: 'post',
        path: '/machines/this/prove',
        summary: 'Try every encoder of this PC by a short test encode',
        reply: machineSheetSchema,
      },
      () => aside(services, () => machines.prove()),
    ),
    route(
      {
        method: 'get',
        path: '/machines/{id}/sheet',
        summary: 'The machine sheet as text, with the recipes in use',
        params: idParams,
        reply: 'text/markdown',
      },
      async ({ params, response }) => {
        const machine = await machines.get(params.id);
        const own = (await setups.list()).filter((setup) => setup.machineId === machine.id);
        response.type('text/markdown').send(machineSheetText(machine, await contexts.drivesOf(machine), own));
      },
    ),
  ];
}
