import { join } from 'node:path';
import { z } from 'zod';
import {
  drivePatchSchema,
  driveSchema,
  driveStateSchema,
  driveTestSchema,
  moveBodySchema,
  movedTakesSchema,
  newDriveSchema,
  type Drive,
  type Setup,
  type Take,
} from '@mellow/model';
import { problem } from '../errors/problem';
import type { Services } from '../services/services';
import { aside } from './aside';
import { idParams, route, type Route } from './route';

/** A drive with a large cache of its own takes so long to show what it keeps up. */
const longestDriveTestS = 20;

/** Folders for takes. */
export function driveRoutes(services: Services): Route[] {
  const { drives, takes, moveTakes } = services;
  return [
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
      ({ params }) => measure(services, params.id),
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
      ({ params }) => takeOffTheList(services, params.id),
    ),
  ];
}

async function measure(services: Services, id: string): Promise<Drive> {
  const { drives, jobs } = services;
  const drive = await drives.get(id);
  const trouble = drives.problemOf(drive);
  if (trouble) throw problem('drive-problem', `${trouble} Nothing was measured.`);
  const job = { kind: 'drive-test' as const, folder: drive.folder, mostS: longestDriveTestS };
  const found = await aside(services, () => jobs.run({ title: `Measuring ${drive.name}`, job }));
  await drives.addTest(drive.id, driveTestSchema.parse(found));
  return drives.get(id);
}

/** @throws a problem where a setup, a take or the working folder needs it */
async function takeOffTheList({ drives, takes, setups, working }: Services, id: string): Promise<void> {
  const drive = await drives.get(id);
  const uses = ({ draft }: Setup): boolean => [draft.driveId, ...draft.nextDriveIds].includes(id);
  const users = (await setups.list()).filter(uses);
  if (users.length)
    throw problem('still-used', `"${users[0]?.name}" records to this folder. Choose another drive there first.`);
  const lies = ({ driveId, files }: Take) =>
    driveId === id ||
    files.some((file) => file.driveId === id || file.movingTo?.path.startsWith(join(drive.folder, '/')));
  if ((await takes.list()).some(lies))
    throw problem(
      'still-used',
      'Takes lie in this folder. Move or delete them first, then the folder can go from the list.',
    );
  if ((await working.state()).driveId === id)
    throw problem('still-used', 'It is the working folder. Choose another one on Machine first.');
  await drives.remove(id);
}
