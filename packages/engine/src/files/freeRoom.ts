import { statfsSync, statSync } from 'node:fs';

/** Bytes that are free where a folder lies; null where the system does not tell. */
export function freeBytes(folder: string): number | null {
  try {
    const room = statfsSync(folder);
    return room.bavail * room.bsize;
  } catch {
    return null;
  }
}

/** The file system a folder lies on, by number; null where it is not there. */
export const deviceOf = (folder: string): number | null => statSync(folder, { throwIfNoEntry: false })?.dev ?? null;
