import { join } from 'node:path';
import { hindsightLimitBytes } from '@mellow/core';
import type { Drive, Hindsight, HindsightOrder, MachineSheet } from '@mellow/model';

/** Pieces that wait on a drive lie here, in a folder for each recorder that holds some. */
export const heldFolderName = '.hindsight';

/** Each beginning has a folder of its own: what an earlier one left is never written into, nor taken for this one's. */
export const watchFolderName = (setupId: string, beganMs: number): string => `watch-${setupId}-${beganMs.toString(36)}`;

/** The setup and the beginning that a folder's name tells; null for a take's. */
export function watchOfFolder(name: string): { setupId: string; beganMs: number } | null {
  const [, setupId, began] = /^watch-(.+)-([0-9a-z]+)$/.exec(name) ?? [];
  return setupId && began ? { setupId, beganMs: Number.parseInt(began, 36) } : null;
}

/** Where a recorder's pieces wait on a drive. */
export const heldFolderOf = ({ folder }: Pick<Drive, 'folder'>, name: string): string =>
  join(folder, heldFolderName, name);

/** What a take's recorder holds beside its file; null where the setup wants nothing held. */
export const heldBeside = (
  { hindsight }: { hindsight: Hindsight | null },
  machine: Pick<MachineSheet, 'memoryBytes'>,
  drive: Pick<Drive, 'folder'>,
  name: string,
): HindsightOrder | null =>
  hindsight && {
    ...hindsight,
    folder: heldFolderOf(drive, name),
    limitBytes: hindsightLimitBytes(machine.memoryBytes),
  };
