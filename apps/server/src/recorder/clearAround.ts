import { rmSync } from 'node:fs';
import type { Take } from '@mellow/model';
import type { DriveService } from '../services/drives';
import { heldFolderOf } from './heldBeside';
import { reservePathOf } from './reservePath';

/**
 * Removes what a take's recorder puts beside its file and clears up itself unless it dies: the room it keeps back, and what it
 * holds of the last minutes, which stands in the take.
 */
export async function clearAround(drives: DriveService, take: Take): Promise<void> {
  const drive = await drives.get(take.driveId).catch(() => null);
  if (!drive) return;
  rmSync(reservePathOf(drive, take.id), { force: true });
  rmSync(heldFolderOf(drive, take.id), { recursive: true, force: true });
}
