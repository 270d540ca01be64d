import { closeSync, mkdirSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';

/**
 * Holds a data folder for one server. Returns the way to let it go, or the sentence to tell.
 * A lock whose process is gone is taken over.
 */
export function lockDataFolder(folder: string): { release: () => void } | { sentence: string } {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, 'lock');
  for (let tries = 0; tries < 2; tries++) {
    try {
      const handle = openSync(file, 'wx');
      writeSync(handle, String(process.pid));
      closeSync(handle);
      return { release: () => rmSync(file, { force: true }) };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      const owner = Number(readFileSync(file, 'utf8'));
      if (isAlive(owner)) {
        return {
          sentence: `Mellow Frame already runs on this data folder (process ${owner}). Use the page it serves, or stop it first.`,
        };
      }
      rmSync(file, { force: true });
    }
  }
  return {
    sentence: `The lock of the data folder, ${file}, cannot be taken. If no Mellow Frame runs, delete it and start again.`,
  };
}

function isAlive(pid: number): boolean {
  if (!Number.isInteger(pid) || pid <= 0 || pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    // A number can be given to another program after a crash; only one of ours holds the folder.
    return isNode(pid);
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

function isNode(pid: number): boolean {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('main.ts');
  } catch {
    return true;
  }
}
