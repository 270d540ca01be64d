import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { createApp } from './http/app';
import { lockDataFolder } from './dataLock';
import { openServices } from './services/services';

/** Starts the server: npm start [-- --fresh]. PORT and MELLOW_DATA may say where. */
const root = fileURLToPath(new URL('../../..', import.meta.url));
const port = Number(process.env['PORT'] ?? 4870);
const dataFolder = process.env['MELLOW_DATA'] ?? join(root, 'data');
const numberFrom = (name: string): number | undefined =>
  process.env[name] === undefined ? undefined : Number(process.env[name]);

if (!Number.isInteger(port) || port < 1 || port > 65535) {
  leave(`PORT is "${process.env['PORT']}"; it has to be a number from 1 to 65535.`);
}
const lock = lockDataFolder(dataFolder);
if ('sentence' in lock) leave(lock.sentence);
process.on('exit', lock.release);

const hangMs = numberFrom('MELLOW_HANG_MS');
const baselineS = numberFrom('MELLOW_BASELINE_S');
const services = await openServices({
  dataFolder,
  ...(hangMs === undefined ? {} : { hangMs }),
  ...(baselineS === undefined ? {} : { baselineS }),
});
const app = createApp(services, join(root, 'apps/web/dist'));
const server = app.listen(port, '127.0.0.1');
server.on('error', (error: NodeJS.ErrnoException) => {
  leave(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken by another program. Stop it, or start with another one: PORT=${port + 1} npm start`
      : `The server could not start: ${error.message}`,
  );
});
server.on('listening', () => {
  void begin().catch((error: unknown) =>
    services.log.add('error', `At the start: ${error instanceof Error ? error.message : String(error)}`),
  );
});

async function begin(): Promise<void> {
  if (!process.argv.includes('--fresh')) await services.demo.bringIn();
  console.log(`Mellow Frame is at http://127.0.0.1:${port}  (data in ${dataFolder}; stop with Ctrl+C)`);
  await services.recorder.recoverOrphans();
}

let leaving = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (leaving) return;
    leaving = true;
    void services.recorder
      .shutDown()
      .then(() => services.store.close())
      .finally(() => process.exit(0));
  });
}

function leave(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}
