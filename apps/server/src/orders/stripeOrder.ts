import { extname, join } from 'node:path';
import { isStriped, stripeLayout, stripeSpeeds } from '@mellow/core';
import { systemFacts, type Reservation } from '@mellow/engine';
import type { DriveState, Recipe, StripeOrder, TakeFile } from '@mellow/model';
import type { DriveService } from '../drives/drives';
import { reservePathOf } from './reservePath';

/** What is asked of drives. */
interface DrivesAsked {
  drives: Pick<DriveService, 'list'>;
  takes: { bytesOnDrive(driveId: string): Promise<number> };
}

/** The drives a take is spread over, in their order; none where it is one file, or no other drive can be used now. */
export async function stripeDrives({ drives }: DrivesAsked, recipe: Recipe): Promise<DriveState[]> {
  if (!isStriped(recipe)) return [];
  const all = await drives.list(() => 0);
  const usable = [...new Set([recipe.driveId, ...recipe.nextDriveIds])].flatMap((id) =>
    all.filter((drive) => drive.id === id && drive.problem === null),
  );
  return usable[0]?.id === recipe.driveId && usable.length > 1 ? usable : [];
}

/** Name of a stripe, below its drive's folder. */
export function stripeName(fileName: string, stripe: number): string {
  const suffix = extname(fileName);
  return `${fileName.slice(0, -suffix.length)} stripe ${stripe + 1}${suffix}`;
}

/** Name of the file that a take's stripes are together, by the path of the first. */
export const builtName = (stripePath: string, suffix: string): string =>
  stripePath.replace(/ stripe 1(?: \d+)?(\.\w+)$/, `${suffix}`);

/** Which block goes where, by what is known of the drives today. */
export async function stripeOrderOf(
  { takes }: DrivesAsked,
  recipe: Recipe,
  drives: readonly DriveState[],
  files: readonly Reservation[],
  takeId: string,
): Promise<StripeOrder> {
  const shares = recipe.parts.by === 'striped' ? recipe.parts.shares : 'equal';
  const places: StripeOrder['places'] = [];
  for (const [i, drive] of drives.entries()) {
    const reserved = files[i];
    if (!reserved) throw new Error(`No file was reserved for stripe ${i + 1}.`);
    places.push({
      ...reserved,
      driveFolder: drive.folder,
      quotaBytes: drive.quotaBytes === null ? null : drive.quotaBytes - (await takes.bytesOnDrive(drive.id)),
      largestFileBytes: systemFacts.largestFileBytes(drive.folder),
      reservePath: drive.quotaBytes === null ? reservePathOf(drive, takeId) : null,
    });
  }
  return { ...stripeLayout(stripeSpeeds(drives), shares), places };
}

/** Stripes as files of their take. */
export const stripeFiles = (drives: readonly DriveState[], files: readonly Reservation[]): TakeFile[] =>
  files.map((file, stripe) => ({
    role: 'take',
    ...file,
    bytes: null,
    stripe,
    ...(stripe > 0 && drives[stripe] ? { driveId: drives[stripe].id } : {}),
  }));

/** Where each stripe's file lies. */
export const stripePaths = (drives: readonly DriveState[], fileName: string): string[] =>
  drives.map(({ folder }, stripe) => join(folder, stripeName(fileName, stripe)));
