import { existsSync, rmSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { whatLiesAt } from '@mellow/engine';
import { errorText } from '@mellow/core';
import type { Removal, Take, TakeFile } from '@mellow/model';

/** Whether a take's file is still the one it made: by identity, or by its size where no identity was kept. */
export function stateOfFile(file: TakeFile): 'same' | 'other' | 'nothing' {
  if (file.identity) return whatLiesAt(file.path, file.identity);
  if (!existsSync(file.path)) return 'nothing';
  return file.bytes !== null && statSync(file.path).size === file.bytes ? 'same' : 'other';
}

/** Deletes files a take has made and that still are the same; everything else stays and is named with the reason. */
export function removeOwnFiles(files: readonly TakeFile[]): Removal {
  const removal: Removal = { removed: [], left: [] };
  for (const file of files) {
    const lies = stateOfFile(file);
    if (lies === 'nothing') {
      // Where its folder is there, somebody else has deleted it; where that is away, it lies there still.
      if (!existsSync(dirname(file.path)))
        removal.left.push({ path: file.path, why: 'its drive or folder is away, where it may still lie' });
      continue;
    }
    if (lies === 'other') {
      removal.left.push({ path: file.path, why: 'another file lies there by now' });
      continue;
    }
    try {
      rmSync(file.path);
      removal.removed.push(file.path);
    } catch (error) {
      removal.left.push({ path: file.path, why: errorText(error) });
    }
  }
  return removal;
}

/** The take with a file added, or put in the place of one at the same path. */
export const withFile = (take: Pick<Take, 'files'>, file: TakeFile): TakeFile[] => [
  ...take.files.filter((known) => known.path !== file.path),
  file,
];
