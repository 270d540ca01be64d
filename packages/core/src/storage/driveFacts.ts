import type { DriveFacts, DriveState, StandInDrive } from '@mellow/model';

export const driveFactsOf = (drive: DriveState): DriveFacts => ({
  id: drive.id,
  name: drive.name,
  kind: drive.kind,
  freeBytes: drive.freeBytes,
  totalBytes: drive.totalBytes,
  takesBytes: drive.takesBytes,
  writeBytesPerSecond: drive.writeBytesPerSecond,
  deviceId: drive.deviceId,
  largestFileBytes: drive.largestFileBytes,
  speedTyped: drive.speedTyped,
  tests: drive.tests,
  simulated: false,
  problem: drive.problem,
  folder: drive.folder,
});

export const standInFacts = (drive: StandInDrive): DriveFacts => ({
  id: drive.id,
  name: drive.name,
  kind: drive.kind,
  freeBytes: drive.freeBytes,
  totalBytes: drive.totalBytes,
  takesBytes: 0,
  writeBytesPerSecond: drive.writeBytesPerSecond,
  deviceId: drive.id,
  largestFileBytes: null,
  speedTyped: false,
  tests: [],
  simulated: true,
  problem: null,
  folder: null,
});

/** Whether the game reads from the physical drive that a take is written to; null where one of both is not known. */
export function sharedWithGame(
  target: DriveFacts,
  gameDriveId: string | null,
  drives: readonly DriveFacts[],
): boolean | null {
  if (gameDriveId === null) return null;
  if (gameDriveId === 'elsewhere') return false;
  if (gameDriveId === target.id) return true;
  const game = drives.find((drive) => drive.id === gameDriveId);
  if (!game) return null;
  if (game.deviceId === null || target.deviceId === null) return null;
  return game.deviceId === target.deviceId;
}
