import { dirname, join } from 'node:path';
import { dueFramesIn, isCut } from '@mellow/core';
import { systemFacts } from '@mellow/engine';
import type { Drive, PartOrder, Recipe } from '@mellow/model';
import type { DriveService } from '../drives/drives';
import { reservePathOf } from './reservePath';

/** What is asked of drives. */
interface DrivesAsked {
  drives: Pick<DriveService, 'get' | 'problemOf'>;
  takes: { bytesOnDrive(driveId: string): Promise<number> };
}

/**
 * Where a full take is cut into files, and where they go; null: it is one file. A drive that cannot be used now is no place
 * to go on in, and the take begins without it.
 * @param fileName below the drive's folder: parts lie in the same subfolder on every drive
 */
export async function partOrderOf(
  { drives, takes }: DrivesAsked,
  recipe: Recipe,
  first: Drive,
  fileName: string,
  takeId: string,
): Promise<PartOrder | null> {
  if (!isCut(recipe)) return null;
  const next: PartOrder['next'] = [];
  for (const id of recipe.nextDriveIds) {
    const drive = await drives.get(id).catch(() => null);
    if (!drive || drive.id === first.id || drives.problemOf(drive)) continue;
    next.push({
      folder: dirname(join(drive.folder, fileName)),
      driveFolder: drive.folder,
      quotaBytes: drive.quotaBytes === null ? null : drive.quotaBytes - (await takes.bytesOnDrive(drive.id)),
      largestFileBytes: systemFacts.largestFileBytes(drive.folder),
      reservePath: drive.quotaBytes === null ? reservePathOf(drive, takeId) : null,
    });
  }
  const { parts } = recipe;
  const limits = [
    ...(parts.by === 'size' ? [parts.megabytes * 1e6] : []),
    ...[systemFacts.largestFileBytes(first.folder), ...next.map((one) => one.largestFileBytes)].filter(
      (bytes) => bytes !== null,
    ),
  ];
  return {
    everyFrames: parts.by === 'length' ? dueFramesIn(recipe.rate, parts.minutes * 60) : null,
    mostBytes: limits.length ? Math.min(...limits) : null,
    next,
  };
}
