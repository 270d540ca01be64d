import { join } from 'node:path';
import { hindsightLimitBytes } from '@mellow/core';
import type { Drive, Hindsight, HindsightOrder, MachineSheet } from '@mellow/model';

/** Pieces that wait on a drive lie here, in a folder for each recorder that holds some. */
export const heldFolderName = '.hindsight';

/** What a take's recorder holds beside its file; null where the setup wants nothing held. */
export const heldBeside = (
  { hindsight }: { hindsight: Hindsight | null },
  machine: Pick<MachineSheet, 'memoryBytes'>,
  drive: Pick<Drive, 'folder'>,
  name: string,
): HindsightOrder | null =>
  hindsight && {
    ...hindsight,
    folder: join(drive.folder, heldFolderName, name),
    limitBytes: hindsightLimitBytes(machine.memoryBytes),
  };
