import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { errorText } from '@mellow/core';
import { leaveAccess, openKeys } from './http/access';
import { createApp } from './http/app';
import { takePageSounds } from './http/pageSocket';
import { lockDataFolder } from './program/dataLock';
import { openServices, type Services } from './services/services';

/** Starts the server: npm start [-- --fresh]. PORT and MELLOW_DATA may say where. */
const root = fileURLToPath(new URL('../../..', import.meta.url));
const port = Number(process.env['PORT'] ?? 4870);
const fresh = asked().fresh;
const dataFolder = process.env['MELLOW_DATA'] ?? join(root, 'data');
function numberFrom(name: string): number | undefined {
  const text = process.env[name];
  if (text === undefined) return undefined;
  const value = Number(text);
  return Number.isFinite(value) && value >= 0 ? value : leave(`${name} is "${text}"; it has to be a number.`);
}

if (!Number.isInteger(port) || port < 1 || port > 65535)
  leave(`PORT is "${process.env['PORT']}"; it has to be a number from 1 to 65535.`);
if (dataFolder.trim() === '') leave('MELLOW_DATA is empty; it has to be a folder. Leave it out to use the usual one.');
const lock = await lockDataFolder(dataFolder);
if ('sentence' in lock) leave(lock.sentence);
process.on('exit', lock.release);

const services = await open();
// Takes that an earlier run left open come first: they are claimed before anybody can ask for a new one.
const recovering = await services.recorder.recoverOrphans().catch((error: unknown) => {
  services.log.add('error', `Looking after takes left open failed: ${errorText(error)}`);
  return { whole: Promise.resolve() };
});
const keys = openKeys(dataFolder);
const app = createApp(services, join(root, 'apps/web/dist'), keys);
const server = app.listen(port, '127.0.0.1');
takePageSounds(server, services.sounds.pages, keys, services.log);
// What is no HTTP gets an answer where it can be given one, and is nobody else's business.
server.on('clientError', (_error, socket) => {
  if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nConnection: close\r\nContent-Length: 0\r\n\r\n');
  else socket.destroy();
});
server.on('error', (error: NodeJS.ErrnoException) => {
  leave(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken by another program. Stop it, or start with another one: PORT=${port + 1} npm start`
      : `The server could not start: ${error.message}`,
  );
});
server.on('listening', () => {
  process.on('exit', leaveAccess(dataFolder, { url: `http://127.0.0.1:${port}`, token: keys.token }));
  void begin().catch((error: unknown) => services.log.add('error', `At the start: ${errorText(error)}`));
});

async function begin(): Promise<void> {
  if (!fresh)
    await services.demo
      .bringIn()
      .catch((error: unknown) => services.log.add('error', `The demo could not be brought in: ${errorText(error)}`));
  console.log(`Mellow Frame is at http://127.0.0.1:${port}  (data in ${dataFolder}; stop with Ctrl+C)`);
  await services.keys.begin();
  services.withGame.begin();
  services.discards.begin();
  await recovering.whole;
  await services.clips.gatherAll();
}

async function open(): Promise<Services> {
  const hangMs = numberFrom('MELLOW_HANG_MS');
  const warmUpS = numberFrom('MELLOW_WARM_UP_S');
  const baselineS = numberFrom('MELLOW_BASELINE_S');
  const pairs = numberFrom('MELLOW_PAIRS');
  try {
    return await openServices({
      dataFolder,
      ...(hangMs === undefined ? {} : { hangMs }),
      ...(warmUpS === undefined ? {} : { warmUpS }),
      ...(baselineS === undefined ? {} : { baselineS }),
      ...(pairs === undefined ? {} : { pairs }),
    });
  } catch (error) {
    return leave(
      `The data in ${dataFolder} cannot be opened: ${errorText(error)} Nothing was changed. Put a copy of mellow.db back, move the folder away to begin anew, or choose another with MELLOW_DATA.`,
    );
  }
}

let leaving = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
  process.on(signal, () => {
    if (leaving) return;
    leaving = true;
    services.sounds.close();
    services.keys.close();
    services.rollSoon.close();
    services.withGame.close();
    services.discards.close();
    void services.hindsight
      .shutDown()
      .then(() => services.recorder.shutDown())
      .then(() => services.store.close())
      .catch((error: unknown) => services.log.add('error', `At the end: ${errorText(error)}`))
      .finally(() => process.exit(0));
  });
}

// Whatever is thrown where nobody foresaw it must not end the application while a take rolls: sockets, timers, children.
process.on('uncaughtException', (error, origin) => {
  services.log.add('error', `Nobody foresaw this (${origin}): ${error.stack ?? errorText(error)}`);
});
process.on('unhandledRejection', (error) => services.log.add('error', `Nobody waited for this: ${errorText(error)}`));

function asked(): { fresh: boolean } {
  try {
    return parseArgs({ options: { fresh: { type: 'boolean', default: false } } }).values;
  } catch (error) {
    return leave(`${errorText(error)}. It is started so: npm start [-- --fresh]`);
  }
}

function leave(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}
