import { fork, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import type { Socket } from 'node:net';
import { fileURLToPath } from 'node:url';
import { engineEventSchema, type EngineCommand, type EngineEvent } from '@mellow/model';

/** A process of the engine, seen from outside: commands go in, events come out, and its end is always told. */
export interface ProcessChannel {
  readonly pid: number;
  /** Sends where somebody is there to take it; an end of the process is told by `onExit`, never thrown. */
  send(command: EngineCommand): void;
  /** @returns the way to stop listening */
  onEvent(listener: (event: EngineEvent) => void): () => void;
  /** Called at once where the process has ended already. @returns the way to stop listening */
  onExit(listener: (how: ProcessEnd) => void): () => void;
  /** Whether it keeps the program running that opened it; it does from the beginning. */
  keepsRunning(on: boolean): void;
  kill(): void;
}

export interface ProcessEnd {
  code: number | null;
  signal: string | null;
  /** The last of what it wrote to its error output, for the log. */
  errors: string;
}

/** The bundled processes, made by the build before start and test. */
const bundles = {
  recorder: fileURLToPath(new URL('../../build/main.mjs', import.meta.url)),
  listen: fileURLToPath(new URL('../../build/listen.mjs', import.meta.url)),
  keys: fileURLToPath(new URL('../../build/keys.mjs', import.meta.url)),
  job: fileURLToPath(new URL('../../build/job.mjs', import.meta.url)),
};

/**
 * Megabytes of objects that a thread keeps before it looks for garbage. A recorder makes little and keeps less: with the runtime's
 * 16 MB the heap of the thread that hears went up and down by 10 MB (measured), and buffers outside the heap wait for it as well.
 */
const smallYoung = ['--max-semi-space-size=1'];

const startPatienceMs = 30_000;
const errorsKept = 4000;
const lastWordsMs = 5000;

/**
 * Starts a process of the engine; resolves when it is ready.
 * @throws in words where the bundle is missing, or the process ends or keeps silent before it is ready
 */
export async function openProcess(kind: keyof typeof bundles): Promise<ProcessChannel> {
  const bundle = bundles[kind];
  if (!existsSync(bundle)) throw new Error('The engine has not been built. Run "npm run build".');
  const child = fork(bundle, [], {
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
    execArgv: kind === 'job' ? [] : smallYoung,
    env: process.env,
  });
  const listeners = new Set<(event: EngineEvent) => void>();
  const exits = new Set<(how: ProcessEnd) => void>();
  let errors = '';
  let ended: ProcessEnd | null = null;
  const end = (code: number | null, signal: string | null): void => {
    if (ended) return;
    ended = { code, signal, errors };
    for (const listener of exits) listener(ended);
  };
  child.stderr?.on('data', (chunk: Buffer) => (errors = (errors + chunk.toString()).slice(-errorsKept)));
  child.on('message', (raw) => {
    const event = engineEventSchema.safeParse(raw).data;
    if (event) for (const listener of [...listeners]) listener(event);
  });
  // What it said last may still be on its way: the channel ends after it, and whoever keeps it open is not waited for.
  child.on('exit', (code, signal) => {
    if (!child.connected) return end(code, signal);
    const late = setTimeout(end, lastWordsMs, code, signal);
    child.once('disconnect', () => {
      clearTimeout(late);
      end(code, signal);
    });
  });
  // Sending to a process that has just died, or one that could not be started, must not end the application.
  child.on('error', (error) => {
    errors = `${errors}\n${error.message}`.slice(-errorsKept);
    if (child.pid === undefined) end(null, null);
  });
  const channel: ProcessChannel = {
    pid: child.pid ?? 0,
    send: (command) => void (child.connected && child.send(command, () => {})),
    onEvent: (listener) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    onExit: (listener) => {
      if (ended) listener(ended);
      else exits.add(listener);
      return () => void exits.delete(listener);
    },
    keepsRunning(on) {
      const what = on ? 'ref' : 'unref';
      child[what]();
      child.channel?.[what]();
      // A pipe of a child is a socket, whatever its type says.
      (child.stderr as Socket | null)?.[what]();
    },
    kill: () => void child.kill('SIGKILL'),
  };
  await readiness(channel, child);
  return channel;
}

function readiness(channel: ProcessChannel, child: ChildProcess): Promise<void> {
  return new Promise((resolve, reject) => {
    const late = setTimeout(() => {
      child.kill('SIGKILL');
      reject(new Error(`The engine was not ready within ${startPatienceMs / 1000} s.`));
    }, startPatienceMs);
    const stops: (() => void)[] = [];
    const settle = (act: () => void): void => {
      clearTimeout(late);
      for (const stop of stops) stop();
      act();
    };
    stops.push(
      channel.onEvent((event) => {
        if (event.type === 'ready') settle(resolve);
        if (event.type === 'job-failed') settle(() => reject(new Error(event.text)));
      }),
      channel.onExit(({ code, signal, errors }) =>
        settle(() => reject(new Error(`The engine ended before it was ready (${signal ?? code}). ${errors}`.trim()))),
      ),
    );
  });
}
