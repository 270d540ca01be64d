import { join } from 'node:path';
import { hindsightLimitBytes } from '@mellow/core';
import type { Drive, Hindsight, HindsightOrder, MachineSheet } from '@mellow/model';

/** Pieces that wait on a drive lie here, in a folder for each recorder that holds some. */
export const heldFolderName = '.hindsight';

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
