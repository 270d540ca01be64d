import { join } from 'node:path';
import { z } from 'zod';
import {
  demoStateSchema,
  drivePatchSchema,
  driveSchema,
  driveTestSchema,
  driveStateSchema,
  liveStateSchema,
  logLineSchema,
  machinePatchSchema,
  machineSchema,
  machineSheetSchema,
  moveBodySchema,
  movedTakesSchema,
  newDriveSchema,
  runningJobSchema,
  screenLookSchema,
  screensSchema,
  sourceSchema,
  type Setup,
  type Take,
} from '@mellow/model';
import { machineSheetText } from '@mellow/core';
import { idParams, route, type Route } from '../http/route';
import { problem } from '../http/problem';
import type { Services } from '../services/services';
import { thisMachine } from '../services/machineFacts';

/** A drive with a large cache of its own takes so long to show what it keeps up. */
const longestDriveTestS = 20;

export function machineRoutes({
  drives,
  takes,
  demo,
  live,
  log,
  recorder,
  setups,
  machines,
  contexts,
  jobs,
  moveTakes,
  screens,
  hindsight,
  working,
}: Services): Route[] {
  /** What is measured has the machine to itself: nothing is held meanwhile. */
  const aside = <T>(work: () => Promise<T>): Promise<T> =>
    recorder.beside(async () => {
      await hindsight.rest();
      try {
        return await work();
      } finally {
        hindsight.resume();
      }
    });
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
      () => aside(() => machines.prove()),
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
    route(
      {
        method: 'get',
        path: '/drives',
        summary: 'Folders for takes, with their room',
        reply: z.array(driveStateSchema),
      },
      async () => {
        const bytes = await takes.bytesByDrive();
        return drives.list((id) => bytes.get(id) ?? 0);
      },
    ),
    route(
      {
        method: 'post',
        path: '/drives',
        summary: 'Add a folder for takes',
        body: newDriveSchema,
        reply: driveSchema,
        status: 201,
      },
      ({ body }) => drives.add(body),
    ),
    route(
      {
        method: 'post',
        path: '/drives/{id}/measure',
        summary: 'Measure how fast the drive writes, until that is steady',
        params: idParams,
        reply: driveSchema,
      },
      async ({ params }) => {
        const drive = await drives.get(params.id);
        const trouble = drives.problemOf(drive);
        if (trouble) throw problem('drive-problem', `${trouble} Nothing was measured.`);
        const job = { kind: 'drive-test' as const, folder: drive.folder, mostS: longestDriveTestS };
        const found = await aside(() => jobs.run({ title: `Measuring ${drive.name}`, job }));
        await drives.addTest(drive.id, driveTestSchema.parse(found));
        return drives.get(params.id);
      },
    ),
    route(
      {
        method: 'patch',
        path: '/drives/{id}',
        summary: 'Type how fast the drive writes, or take what the last test found',
        params: idParams,
        body: drivePatchSchema,
        reply: driveSchema,
      },
      ({ params, body }) => drives.typeSpeed(params.id, body.writeBytesPerSecond),
    ),
    route(
      {
        method: 'post',
        path: '/drives/{id}/move',
        summary: 'Move all takes of a folder into another, in the same subfolders',
        params: idParams,
        body: moveBodySchema,
        reply: movedTakesSchema,
      },
      ({ params, body }) => moveTakes(params.id, body.to),
    ),
    route(
      {
        method: 'delete',
        path: '/drives/{id}',
        summary: 'Take a folder off the list; its files stay',
        params: idParams,
        reply: null,
      },
      async ({ params }) => {
        const drive = await drives.get(params.id);
        const uses = ({ draft }: Setup): boolean => [draft.driveId, ...draft.nextDriveIds].includes(params.id);
        const users = (await setups.list()).filter(uses);
        if (users.length)
          throw problem('still-used', `"${users[0]?.name}" records to this folder. Choose another drive there first.`);
        const lies = ({ driveId, files }: Take) =>
          driveId === params.id ||
          files.some((file) => file.driveId === params.id || file.movingTo?.path.startsWith(join(drive.folder, '/')));
        if ((await takes.list()).some(lies))
          throw problem(
            'still-used',
            'Takes lie in this folder. Move or delete them first, then the folder can go from the list.',
          );
        if ((await working.state()).driveId === params.id)
          throw problem('still-used', 'It is the working folder. Choose another one on Machine first.');
        await drives.remove(params.id);
      },
    ),
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
      ({ request, response }) => {
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
      },
    ),
  ];
}
