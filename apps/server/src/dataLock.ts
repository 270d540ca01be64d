import { mkdirSync, openSync, closeSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { join } from 'node:path';
import { dropLocalAddress, newLocalAddress } from '@mellow/engine';

/** Held: the way to let it go. Otherwise the sentence to tell. */
export type DataLock = { release: () => void } | { sentence: string };

/**
 * Holds a data folder for one server. The lock's file names an address at which its owner answers as long as it lives, so
 * that a number given to another program after a crash never blocks a start. A lock whose owner is gone is taken over.
 */
export async function lockDataFolder(folder: string): Promise<DataLock> {
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    return {
      sentence: `The data folder ${folder} cannot be made (${codeOf(error)}). Choose another with MELLOW_DATA.`,
    };
  }
  const file = join(folder, 'lock');
  const address = newLocalAddress('lock');
  for (let tries = 0; tries < 3; tries++) {
    try {
      const handle = openSync(file, 'wx');
      writeSync(handle, JSON.stringify({ pid: process.pid, address }));
      closeSync(handle);
      return { release: await answerAt(address, file) };
    } catch (error) {
      if (codeOf(error) !== 'EEXIST')
        return {
          sentence: `The data folder ${folder} cannot be written to (${codeOf(error)}). Choose another with MELLOW_DATA.`,
        };
      const owner = ownerOf(file);
      if (owner && (await answers(owner.address)))
        return {
          sentence: `Mellow Frame already runs on this data folder (process ${owner.pid}). Use the page it serves, or stop it first.`,
        };
      rmSync(file, { force: true });
    }
  }
  return {
    sentence: `The lock of the data folder, ${file}, cannot be taken. If no Mellow Frame runs, delete it and start again.`,
  };
}

const codeOf = (error: unknown): string => (error as NodeJS.ErrnoException).code ?? 'unknown reason';

function ownerOf(file: string): { pid: number; address: string } | null {
  try {
    const { pid, address } = JSON.parse(readFileSync(file, 'utf8')) as { pid?: unknown; address?: unknown };
    return typeof pid === 'number' && typeof address === 'string' ? { pid, address } : null;
  } catch {
    return null;
  }
}

function answerAt(address: string, file: string): Promise<() => void> {
  const server = createServer((socket) => {
    socket.on('error', () => {});
    socket.end();
  });
  server.unref();
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(address, () =>
      resolve(() => {
        rmSync(file, { force: true });
        dropLocalAddress(address);
      }),
    );
  });
}

/** A process that is there but stopped still accepts: it holds the folder. */
function answers(address: string): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(address);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}
