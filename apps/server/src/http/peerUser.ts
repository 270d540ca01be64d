import { readFileSync } from 'node:fs';
import type { Socket } from 'node:net';

/** A connection of this PC as Linux lists it: addresses as hexadecimal, state, and who owns its end (proc(5), /proc/net/tcp). */
const line = /^\s*\d+: ([0-9A-F]{8}):([0-9A-F]{4}) ([0-9A-F]{8}):([0-9A-F]{4}) [0-9A-F]{2} \S+ \S+ \S+\s+(\d+)/;
const loopback = '0100007F';

/**
 * Number of the user whose program asks over a connection from this PC.
 * @param table what the system lists; the running system's where it is left out
 * @returns null where the system does not tell
 */
export function peerUser(
  { remotePort, localPort }: Pick<Socket, 'remotePort' | 'localPort'>,
  table: () => string = () => readFileSync('/proc/net/tcp', 'latin1'),
): number | null {
  if (remotePort === undefined || localPort === undefined) return null;
  const hex = (port: number): string => port.toString(16).toUpperCase().padStart(4, '0');
  try {
    for (const text of table().split('\n')) {
      const [, from, fromPort, to, toPort, user] = line.exec(text) ?? [];
      if (from === loopback && to === loopback && fromPort === hex(remotePort) && toPort === hex(localPort))
        return Number(user);
    }
  } catch {
    // Another system, or one that keeps it to itself.
  }
  return null;
}

/** Users that may ask: the one the application runs as, and the administrator, who can read everything anyway. */
export function isOwnUser(user: number | null): boolean {
  const own = process.getuid?.();
  return user === null || own === undefined || user === own || user === 0;
}
