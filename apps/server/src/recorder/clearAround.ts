import { rmSync } from 'node:fs';
import type { Take } from '@mellow/model';
import type { TrialServices } from '../orders/orderTrial';
import { heldFolderOf } from '../orders/heldBeside';
import { reservePathOf } from '../orders/reservePath';

/**
 * Removes what a take's recorder puts beside its file and clears up itself unless it dies: the room it keeps back, and what it
 * holds of the last minutes, which stands in the take.
 */
export async function clearAround(
  { drives, working }: Pick<TrialServices, 'drives' | 'working'>,
  take: Take,
): Promise<void> {
  const drive = await drives.get(take.driveId).catch(() => null);
  if (!drive) return;
  for (const id of [take.driveId, ...take.recipe.nextDriveIds]) {
    const one = await drives.get(id).catch(() => null);
    if (one) rmSync(reservePathOf(one, take.id), { force: true });
  }
  rmSync(heldFolderOf(working.driveFor(drive), take.id), { recursive: true, force: true });
}
