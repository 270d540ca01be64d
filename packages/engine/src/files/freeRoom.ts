import { statfsSync } from 'node:fs';

/** Bytes that are free where a folder lies; null where the system does not tell. */
export function freeBytes(folder: string): number | null {
  try {
    const room = statfsSync(folder);
    return room.bavail * room.bsize;
  } catch {
    return null;
  }
}
