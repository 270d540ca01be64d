import { closeSync, futimesSync, openSync } from 'node:fs';
import { createServer, type Server } from 'node:net';
import { join } from 'node:path';
import { dropLocalAddress } from '../client/localAddress';
import { ledgerNames } from '../files/ledgerNames';

/** What a living recorder answers at its address. */
export interface Aliveness {
  pid: number;
  takeId: string | null;
}

/** Answers at an address as long as this process lives; the operating system ends it with the process. */
export function answerAt(address: string, aliveness: () => Aliveness): Server {
  const server = createServer((socket) => {
    socket.on('error', () => {});
    socket.end(JSON.stringify(aliveness()));
  });
  server.on('error', () => {});
  server.listen(address);
  server.unref();
  process.on('exit', () => dropLocalAddress(address));
  return server;
}

/** Touches a file in the take's folder, so that its age tells how long ago this process last got on. */
export function beatIn(folder: string): { beat(): void; end(): void } {
  let handle: number | null = null;
  return {
    beat() {
      try {
        handle ??= openSync(join(folder, ledgerNames.heartbeat), 'w');
        futimesSync(handle, new Date(), new Date());
      } catch {
        // The folder is not there yet, or not any more; the socket still answers.
      }
    },
    end() {
      if (handle !== null) closeSync(handle);
      handle = null;
    },
  };
}
