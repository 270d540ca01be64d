// Starts the server and hands signals on to it: a shell that would do so by "exec" is not there on every system.
import { spawn } from 'node:child_process';

const child = spawn(process.execPath, ['apps/server/build/main.mjs', ...process.argv.slice(2)], {
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal));

// npm runs this through a shell that dies of a signal without handing it on: the server would stay, and hold its port.
const orphanPollMs = 250;
const startedBy = process.ppid;
if (process.env.npm_lifecycle_event) {
  const watch = setInterval(() => {
    if (process.ppid === startedBy) return;
    clearInterval(watch);
    child.kill('SIGTERM');
  }, orphanPollMs);
}

child.on('exit', (code, signal) => process.exit(code ?? (signal ? 1 : 0)));
child.on('error', (error) => {
  console.error(`The server could not be started: ${error.message}`);
  process.exit(1);
});
