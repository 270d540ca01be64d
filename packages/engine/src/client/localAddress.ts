import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/**
 * An address nobody else has, at which a process answers as long as it lives: a named pipe on Windows, a name without a file on
 * Linux (unix(7), abstract), so that a killed process leaves nothing behind, a socket file elsewhere.
 */
export function newLocalAddress(kind: 'recorder' | 'lock' | 'sound'): string {
  const name = `mellow-${kind}-${randomBytes(6).toString('hex')}`;
  if (process.platform === 'win32') return `\\\\.\\pipe\\${name}`;
  return process.platform === 'linux' ? `\0${name}` : join(tmpdir(), `${name}.sock`);
}

/** Removes what an address has left on the drive, where it has. */
export function dropLocalAddress(address: string): void {
  if (!address.startsWith('\0')) rmSync(address, { force: true });
}
