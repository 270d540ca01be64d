import type { DriveFacts, Recipe } from '@mellow/model';
import { stripedDrive } from './stripedDrive';

/** Two folders that tell nearly the same room on one device share it. */
const sameRoomBytes = 10e6;

/** Free bytes on the recipe's drive and on those that take over from it, or what fits over all at once; null where the first does not tell. */
export function roomFor(
  recipe: Pick<Recipe, 'driveId' | 'nextDriveIds' | 'parts'>,
  drives: readonly DriveFacts[],
): number | null {
  const striped = stripedDrive(recipe, drives);
  if (striped) return striped.freeBytes;
  const first = drives.find(({ id }) => id === recipe.driveId);
  if (!first || first.freeBytes === null) return null;
  const counted: DriveFacts[] = [];
  for (const id of [recipe.driveId, ...recipe.nextDriveIds]) {
    const drive = drives.find((one) => one.id === id);
    if (drive?.problem === null && drive.freeBytes !== null && !counted.some((other) => shareRoom(other, drive)))
      counted.push(drive);
  }
  return counted.length ? counted.reduce((sum, { freeBytes }) => sum + (freeBytes ?? 0), 0) : first.freeBytes;
}

function shareRoom(a: DriveFacts, b: DriveFacts): boolean {
  return (
    a.id === b.id ||
    (a.deviceId !== null &&
      a.deviceId === b.deviceId &&
      Math.abs((a.freeBytes ?? 0) - (b.freeBytes ?? 0)) < sameRoomBytes)
  );
}
