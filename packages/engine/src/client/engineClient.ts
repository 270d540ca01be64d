import { fork, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { engineEventSchema, type EngineCommand, type EngineEvent, type MediaJob, type TakeOrder } from '@mellow/model';

/** The recorder's process, seen from outside: commands go in, events come out. */
export interface EngineClient {
  readonly pid: number;
  roll(order: TakeOrder): void;
  stop(): void;
  /** Runs one media job; rejects with the reason. */
  job(job: MediaJob): Promise<unknown>;
  onEvent(listener: (event: EngineEvent) => void): void;
  onExit(listener: (code: number | null, signal: string | null) => void): void;
  kill(): void;
  quit(): void;
}

/** The bundled engine, made by the build before start and test. */
export const engineBundle = fileURLToPath(new URL('../../build/main.mjs', import.meta.url));

/**
 * Starts an engine process; resolves when it is ready.
 * @throws where the bundle is missing or the process ends before it is ready
 */
export async function startEngine(): Promise<EngineClient> {
  if (!existsSync(engineBundle)) throw new Error('The engine has not been built. Run "npm run build".');
  const child = fork(engineBundle, [], {
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
    execArgv: [],
  });
  const listeners: ((event: EngineEvent) => void)[] = [];
  const exits: ((code: number | null, signal: string | null) => void)[] = [];
  const jobs = new Map<string, { resolve: (value: unknown) => void; reject: (reason: Error) => void }>();
  let stderrTail = '';
  child.stderr?.on('data', (chunk: Buffer) => (stderrTail = (stderrTail + chunk.toString()).slice(-4000)));
  child.on('message', (raw) => {
    const parsed = engineEventSchema.safeParse(raw);
    if (!parsed.success) return;
    const event = parsed.data;
    if (event.type === 'job-done' || event.type === 'job-failed') {
      const job = jobs.get(event.id);
      jobs.delete(event.id);
      if (event.type === 'job-done') job?.resolve(event.result);
      else job?.reject(new Error(event.text));
    }
    for (const listener of listeners) listener(event);
  });
  child.on('exit', (code, signal) => {
    for (const job of jobs.values())
      job.reject(new Error(`The recorder's process ended (${signal ?? code}). ${stderrTail}`.trim()));
    jobs.clear();
    for (const listener of exits) listener(code, signal);
  });
  const send = (command: EngineCommand): void => {
    if (child.connected) child.send(command);
  };
  await readyOf(child, () => stderrTail);
  let serial = 0;
  return {
    pid: child.pid ?? 0,
    roll: (order) => send({ type: 'roll', order }),
    stop: () => send({ type: 'stop' }),
    job: (job) =>
      new Promise((resolve, reject) => {
        const id = String(++serial);
        jobs.set(id, { resolve, reject });
        if (!child.connected) reject(new Error('The recorder’s process has ended.'));
        send({ type: 'job', id, job });
      }),
    onEvent: (listener) => void listeners.push(listener),
    onExit: (listener) => void exits.push(listener),
    kill: () => void child.kill('SIGKILL'),
    quit: () => send({ type: 'quit' }),
  };
}

function readyOf(child: ChildProcess, errors: () => string): Promise<void> {
  return new Promise((resolve, reject) => {
    const onMessage = (raw: unknown) => {
      if (engineEventSchema.safeParse(raw).data?.type !== 'ready') return;
      child.off('message', onMessage);
      child.off('exit', onExit);
      resolve();
    };
    const onExit = (code: number | null, signal: string | null) =>
      reject(new Error(`The engine ended before it was ready (${signal ?? code}). ${errors()}`));
    child.on('message', onMessage);
    child.on('exit', onExit);
  });
}
