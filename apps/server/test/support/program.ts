import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { plainPracticeGame } from '@mellow/core';
import {
  liveStateSchema,
  setupSchema,
  takeListSchema,
  takeSchema,
  type LiveState,
  type Recipe,
  type Setup,
  type Take,
} from '@mellow/model';

const root = join(__dirname, '../../../..');

/** A port that nobody has now. */
export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });

export interface Started {
  child: ChildProcess;
  output: () => string;
  exited: Promise<number | null>;
}

/** The real program on a data folder of its own, started, killed and started again. */
export interface Program {
  folder: string;
  port: number;
  start(env?: Record<string, string>, args?: string[]): Started;
  api(path: string, init?: RequestInit): Promise<unknown>;
  post(path: string, body?: unknown): Promise<unknown>;
  serving(): Promise<LiveState>;
  live(wanted: (state: LiveState) => boolean): Promise<LiveState>;
  idle(): Promise<LiveState>;
  takes(): Promise<Take[]>;
  take(id: string): Promise<Take>;
  smallSetup(change?: (draft: Recipe) => Recipe, name?: string): Promise<Setup>;
  /** Process number of the recorder that makes a take. */
  recorderOf(takeId: string): number;
  close(): void;
}

const untilPatienceMs = 90_000;

/**
 * Asks again until an answer is as wanted.
 * @param why told with the error when it never is
 * @throws when it is not within 90 s
 */
export async function until<T>(ask: () => Promise<T | null> | T | null, why: () => string = () => ''): Promise<T> {
  let last: unknown = null;
  for (const beganMs = performance.now(); performance.now() - beganMs < untilPatienceMs;) {
    const answer = await Promise.resolve()
      .then(ask)
      .catch((error: unknown) => {
        last = error;
        return null;
      });
    if (answer !== null) return answer;
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  throw new Error(`Not as wanted within ${untilPatienceMs / 1000} s. ${String(last)} ${why()}`);
}

export async function openProgram(): Promise<Program> {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-program-'));
  const port = await freePort();
  const children: ChildProcess[] = [];
  const api = async (path: string, init?: RequestInit): Promise<unknown> => {
    const response = await fetch(`http://127.0.0.1:${port}/api${path}`, {
      ...init,
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${tokenIn(folder)}` },
    });
    return response.status === 204 ? null : response.json();
  };
  let seen: LiveState | null = null;
  let outputs = '';
  const live = (wanted: (state: LiveState) => boolean) =>
    until(
      async () => {
        const state = (seen = liveStateSchema.parse(await api('/state')));
        return wanted(state) ? state : null;
      },
      () => `${JSON.stringify(seen)}\n${outputs}`,
    );
  const post = (path: string, body: unknown = {}) => api(path, { method: 'POST', body: JSON.stringify(body) });
  return {
    folder,
    port,
    api,
    post,
    live,
    serving: () => until(async () => liveStateSchema.parse(await api('/state'))),
    idle: () => live((state) => state.recorder === 'idle' && state.take === null),
    takes: async () => takeListSchema.parse(await api('/takes')),
    take: async (id) => takeSchema.parse(await api(`/takes/${id}`)),
    start(env = {}, args = ['--fresh']) {
      const child = spawn(process.execPath, ['apps/server/build/main.mjs', ...args], {
        cwd: root,
        env: {
          ...process.env,
          PORT: String(port),
          MELLOW_DATA: folder,
          MELLOW_WARM_UP_S: '0.5',
          MELLOW_BASELINE_S: '0',
          MELLOW_PAIRS: '1',
          ...env,
        },
      });
      children.push(child);
      let text = '';
      const hear = (chunk: Buffer): void => {
        text += chunk.toString();
        outputs += chunk.toString();
      };
      child.stdout.on('data', hear);
      child.stderr.on('data', hear);
      return { child, output: () => text, exited: new Promise((resolve) => child.on('exit', resolve)) };
    },
    async smallSetup(change = (draft) => draft, name = 'Small') {
      const game = { ...plainPracticeGame, widthPx: 640, heightPx: 360, capFps: 60 };
      const setup = setupSchema.parse(
        await post('/setups', { name, brief: { purpose: 'lesson', sessionMinutes: 30 }, game }),
      );
      const draft = change({ ...setup.draft, rate: { num: 30, den: 1 }, lanes: setup.draft.lanes.slice(0, 1) });
      return setupSchema.parse(
        await api(`/setups/${setup.id}/draft`, { method: 'PUT', body: JSON.stringify({ recipe: draft }) }),
      );
    },
    recorderOf(takeId) {
      const header = JSON.parse(readFileSync(join(folder, 'takes', takeId, 'header.json'), 'utf8')) as {
        enginePid: number;
      };
      return header.enginePid;
    },
    close() {
      for (const child of children) child.kill('SIGKILL');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** What the program that runs on a folder left there for other programs. */
export function tokenIn(folder: string): string {
  const { token } = JSON.parse(readFileSync(join(folder, 'access.json'), 'utf8')) as { token: string };
  return token;
}

/** Hash of every file below a folder, by its path. */
export async function hashesOf(folder: string): Promise<Map<string, string>> {
  const hashes = new Map<string, string>();
  if (!existsSync(folder)) return hashes;
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    const path = join(entry.parentPath, entry.name);
    const hash = createHash('sha256');
    for await (const chunk of createReadStream(path)) hash.update(chunk as Buffer);
    hashes.set(path, hash.digest('hex'));
  }
  return hashes;
}
