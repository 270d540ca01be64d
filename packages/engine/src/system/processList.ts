import { execFile } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);
const patienceMs = 5000;

/** Names in the table that Windows' `tasklist /fo csv /nh` prints. */
export const namesOfTasklist = (text: string): string[] =>
  text.split(/\r?\n/).flatMap((line) => /^"((?:[^"]|"")*)"/.exec(line)?.[1]?.replaceAll('""', '"') ?? []);

/** Names in the list of paths that `ps -axo comm=` prints. */
export const namesOfPs = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => basename(line.trim()))
    .filter(Boolean);

/** Name of the program that a process of Linux is; null when it has ended. */
export function linuxProgramOf(processId: number): string | null {
  try {
    return readFileSync(`/proc/${processId}/comm`, 'utf8').trim() || null;
  } catch {
    return null;
  }
}

/** Linux: the short name of each process, which is cut off after 15 signs, and the name of what was started. */
function linuxNames(): string[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((id) => {
      try {
        const started = readFileSync(`/proc/${id}/cmdline`, 'utf8').split('\0')[0] ?? '';
        return [readFileSync(`/proc/${id}/comm`, 'utf8').trim(), basename(started)].filter(Boolean);
      } catch {
        // It has ended meanwhile.
        return [];
      }
    });
}

/** Names of all programs that run, each once, in their order. @throws where the system does not tell */
export async function processNames(): Promise<string[]> {
  const names =
    process.platform === 'linux'
      ? linuxNames()
      : process.platform === 'win32'
        ? namesOfTasklist((await run('tasklist', ['/fo', 'csv', '/nh'], { timeout: patienceMs })).stdout)
        : namesOfPs((await run('ps', ['-axo', 'comm='], { timeout: patienceMs })).stdout);
  return [...new Set(names)].sort((a, b) => a.localeCompare(b));
}
