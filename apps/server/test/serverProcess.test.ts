import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { plainPracticeGame } from '@mellow/core';
import { tokenIn } from './support/program';
import { liveStateSchema, setupSchema, takeListSchema, type LiveState, type Take } from '@mellow/model';

const root = join(__dirname, '../../..');
let folder: string;
let port: number;
const children: ChildProcess[] = [];

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'mellow-process-'));
  port = await freePort();
});
afterAll(() => {
  for (const child of children) child.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

interface Started {
  child: ChildProcess;
  output: () => string;
  exited: Promise<number | null>;
}

const asServer = [process.execPath, 'apps/server/build/main.mjs', '--fresh'];

function start(env: Record<string, string> = {}, [program = '', ...args]: string[] = asServer): Started {
  const child = spawn(program, args, {
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
  child.stdout.on('data', (chunk: Buffer) => (text += chunk.toString()));
  child.stderr.on('data', (chunk: Buffer) => (text += chunk.toString()));
  return { child, output: () => text, exited: new Promise((resolve) => child.on('exit', resolve)) };
}

const api = async (path: string, init?: RequestInit): Promise<unknown> => {
  const response = await fetch(`http://127.0.0.1:${port}/api${path}`, {
    ...init,
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${tokenIn(folder)}` },
  });
  return response.json();
};

/** Asks again until an answer is as wanted; the test's own time limit ends it. */
async function until<T>(ask: () => Promise<T | null>): Promise<T> {
  for (;;) {
    const answer = await ask().catch(() => null);
    if (answer !== null) return answer;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
const serving = () => until(async () => liveStateSchema.parse(await api('/state')));
const live = (wanted: (state: LiveState) => boolean) =>
  until(async () => {
    const state = liveStateSchema.parse(await api('/state'));
    return wanted(state) ? state : null;
  });
const lastTake = async (): Promise<Take> => takeListSchema.parse(await api('/takes'))[0]!;
const ended = (state: LiveState) => state.recorder === 'idle' && state.take === null;

async function rollLong(): Promise<void> {
  const game = { ...plainPracticeGame, widthPx: 640, heightPx: 360, capFps: 60 };
  const setup = setupSchema.parse(
    await api('/setups', {
      method: 'POST',
      body: JSON.stringify({ name: 'Long', brief: { purpose: 'lesson', sessionMinutes: 30 }, game }),
    }),
  );
  await api(`/setups/${setup.id}/trials`, { method: 'POST', body: JSON.stringify({ lengthS: 60 }) });
  await live((state) => (state.take?.elapsedUs ?? 0) > 2e6);
}

describe('the program as a whole', () => {
  it('prints its address, refuses a second start on the same data and a busy port in a sentence', async () => {
    const first = start();
    await serving();
    expect(first.output()).toContain(`http://127.0.0.1:${port}`);
    const second = start({ PORT: String(port + 1) });
    expect(await second.exited).toBe(1);
    expect(second.output()).toContain('already runs on this data folder');
    const third = start({ MELLOW_DATA: join(folder, 'other') });
    expect(await third.exited).toBe(1);
    expect(third.output()).toContain(`Port ${port} is taken`);
    const wrong = start({ PORT: 'high', MELLOW_DATA: join(folder, 'other') });
    expect(await wrong.exited).toBe(1);
    expect(wrong.output()).toContain('has to be a number');
    first.child.kill('SIGTERM');
    expect(await first.exited).toBe(0);
    expect(existsSync(join(folder, 'lock'))).toBe(false);
  });

  it('killed while rolling: the recorder closes the take by itself, and the next start finds it', async () => {
    const first = start();
    await serving();
    await rollLong();
    first.child.kill('SIGKILL');
    await first.exited;
    start();
    await serving();
    await live(ended);
    const take = await until(async () => {
      const found = await lastTake();
      return found.verdict ? found : null;
    });
    expect(take).toMatchObject({ state: 'closed', end: 'server-gone', tailFrames: 0 });
    expect(take.facts?.picture.endUs).toBeGreaterThan(2e6);
    expect(take.facts?.picture.packets).toBe(take.summary?.filed);
  });

  it('asked to end while rolling, it closes the take before it goes', async () => {
    await rollLong();
    const running = children.at(-1)!;
    const gone = new Promise((resolve) => running.on('exit', resolve));
    running.kill('SIGTERM');
    expect(await gone).toBe(0);
    start();
    await serving();
    // The closed file is read back by the next start: nobody waits at the end for more than its container.
    const take = await until(async () => {
      const found = await lastTake();
      return found.verdict ? found : null;
    });
    expect(take).toMatchObject({ state: 'closed', end: 'stopped' });
  });

  it('started by npm, it ends with npm, whose shell hands no signal on', async () => {
    const environment = { PORT: String(await freePort()), MELLOW_DATA: join(folder, 'by-npm') };
    // As built: nothing may be built anew under the feet of other tests.
    const byNpm = start(environment, ['npm', 'start', '--ignore-scripts', '--', '--fresh']);
    const answers = () => fetch(`http://127.0.0.1:${environment.PORT}/`).then(({ ok }) => ok);
    await until(async () => (await answers()) || null);
    byNpm.child.kill('SIGTERM');
    await byNpm.exited;
    await until(async () => !(await answers().catch(() => false)) || null);
    expect(existsSync(join(environment.MELLOW_DATA, 'lock'))).toBe(false);
  });
});
