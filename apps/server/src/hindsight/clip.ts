import { join } from 'node:path';
import { capitalised, errorText, takeName } from '@mellow/core';
import type { Reservation } from '@mellow/engine';
import {
  mediaFactsSchema,
  type Drive,
  type KeepOrder,
  type Kept,
  type MediaFacts,
  type Setup,
  type Take,
} from '@mellow/model';
import { nanoid } from 'nanoid';
import type { DriveService } from '../drives/drives';
import { gaveWay, type JobService } from '../files/jobs';
import type { Journals } from '../files/journals';
import type { MachineService } from '../machine/machines';
import type { AppLog } from '../program/appLog';
import type { LiveHub } from '../program/liveHub';
import type { SetupService } from '../setups/setups';
import { newTrial } from '../takes/newTrial';
import type { TakeService } from '../takes/takes';

/** What a clip is cut from. */
export interface ClipOrigin {
  setupId: string;
  from: Pick<Take, 'game' | 'recipe' | 'source'>;
  driveId: string;
  /** Most that can be kept. */
  lengthS: number;
  keep(order: KeepOrder): Promise<Kept>;
}

export interface ClipServices {
  takes: TakeService;
  setups: SetupService;
  machines: MachineService;
  drives: DriveService;
  jobs: JobService;
  live: LiveHub;
  log: AppLog;
  journals: Journals;
  /** Where clips that are being written stand. */
  pendingFolder: string;
}

/** A clip as a take that is not stored yet, and the drive it goes to. */
export async function plannedClip(
  { setups, drives, takes, machines }: ClipServices,
  origin: Pick<ClipOrigin, 'setupId' | 'from' | 'driveId'>,
): Promise<{ take: Take; drive: Drive }> {
  const setup = await setups.get(origin.setupId);
  const drive = await drives.get(origin.driveId);
  const now = new Date();
  const { game, recipe, source } = origin.from;
  const take = newTrial({
    ...{ id: nanoid(12), kind: 'clip', setup, drive, now, prediction: null, lengthS: null },
    ...{ game, recipe, source, clock: 'real' },
    version: lastVersion(setup),
    number: await takes.nextNumber(setup.id),
    machine: await machines.get('this'),
  });
  return { take, drive };
}

/** The row comes when the file is whole: whatever dies before leaves no take without a file. */
export async function insertClip(
  takes: ClipServices['takes'],
  take: Take,
  reserved: Reservation,
  drive: Drive,
  kept: { bytes: number; askedS: number },
): Promise<void> {
  const file = { role: 'take' as const, path: reserved.path, identity: reserved.identity, bytes: kept.bytes };
  await takes.insert({
    ...take,
    state: 'reading-back',
    end: 'stopped',
    lengthS: kept.askedS,
    filePath: reserved.path,
    fileName: reserved.path.slice(join(drive.folder, '/').length),
    files: [file],
  });
}

/** Reads a clip that is a take by now back, and makes its still. @param ready what was read of it already */
export async function finishClip(
  services: ClipServices,
  take: Take,
  reserved: Reservation,
  ready?: MediaFacts,
): Promise<Take> {
  const { jobs, takes, live, log } = services;
  const name = capitalised(takeName(take));
  const facts = ready ?? (await factsWhileIdle(services, `${name}: reading the file back`, take, reserved.path));
  const stored = await takes.update(take.id, { facts, state: 'closed' });
  await jobs
    .run({
      title: `${name}: still`,
      takeId: take.id,
      job: {
        kind: 'still',
        filePath: reserved.path,
        outPath: join(takes.folder(take.id), 'still.jpg'),
        atUs: (facts.picture.endUs ?? 0) * 0.45,
      },
    })
    .catch((error: unknown) => log.add('warn', `No still of ${takeName(take)}: ${errorText(error)}`));
  live.dataChanged();
  return stored;
}

/** Nothing of ours reads beside a take that rolls: a clip is read when nothing does, and again where a take came in between. */
async function factsWhileIdle(
  { jobs, live }: ClipServices,
  title: string,
  take: Take,
  filePath: string,
): Promise<MediaFacts> {
  for (;;) {
    await untilIdle(live);
    try {
      const job = { kind: 'facts' as const, filePath };
      return mediaFactsSchema.parse(await jobs.run({ title, takeId: take.id, yields: true, job }));
    } catch (error) {
      if (!gaveWay(error)) throw error;
    }
  }
}

function untilIdle(live: LiveHub): Promise<void> {
  if (live.state().recorder === 'idle') return Promise.resolve();
  return new Promise((resolve) => {
    const stop = live.listen((state) => {
      if (state.recorder !== 'idle') return;
      stop();
      resolve();
    });
  });
}

/** The recipe's number, where it has one by now. */
function lastVersion(setup: Setup) {
  return (
    setup.versions.findLast((version) => JSON.stringify(version.recipe) === JSON.stringify(setup.draft)) ??
    setup.versions.at(-1) ?? { number: 1, recipe: setup.draft, createdAt: setup.createdAt }
  );
}
