import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';
import { z } from 'zod';
import { errorOf, plainPracticeGame } from '@mellow/core';
import {
  liveStateSchema,
  setupSchema,
  takeListSchema,
  takeClosingSchema,
  type LiveState,
  type Take,
} from '@mellow/model';
import { atMost, figure, type BenchResult } from './measure';

/** The program as a whole: time to serving, lateness of the real clock, time to notice a dead recorder, cost of the page. */
const root = fileURLToPath(new URL('..', import.meta.url));
const port = 4879;
const url = `http://127.0.0.1:${port}`;
const executablePath = process.env['CHROMIUM_PATH'] ?? '/usr/bin/chromium';
const browserArgs = [
  '--no-sandbox',
  '--disable-dev-shm-usage',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--mellow-bench',
];

/** The data folder of the program that runs. */
let dataNow = '';

/** What opens the interface to a program; what is not there yet opens nothing. */
function tokenIn(data: string): string {
  const path = join(data, 'access.json');
  if (!existsSync(path)) return '';
  return z.object({ token: z.string() }).parse(JSON.parse(readFileSync(path, 'utf8'))).token;
}

function startServer(data: string): ChildProcess {
  dataNow = data;
  return spawn('npm', ['start', '--', '--fresh'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, PORT: String(port), MELLOW_DATA: data, MELLOW_BASELINE_S: '0.5', MELLOW_PAIRS: '1' },
  });
}

const api = async (path: string, body?: unknown): Promise<unknown> =>
  (
    await fetch(`${url}/api${path}`, {
      headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${tokenIn(dataNow)}` },
      ...(body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) }),
    })
  ).json();

/** Asks until there is an answer; what the asking throws ends the waiting. */
async function until<T>(ask: () => Promise<T | null>, everyMs = 20): Promise<T> {
  for (;;) {
    const answer = await ask();
    if (answer !== null) return answer;
    await new Promise((resolve) => setTimeout(resolve, everyMs));
  }
}
const state = async (): Promise<LiveState> => liveStateSchema.parse(await api('/state'));

async function servingTimeS(data: string): Promise<{ child: ChildProcess; seconds: number }> {
  const startedMs = performance.now();
  const child = startServer(data);
  // A server that ends instead of serving would leave the wait below without an end, or another server answering it.
  await until(() => {
    if (hasEnded(child)) throw new Error(`npm start ended with ${child.exitCode ?? child.signalCode}.`);
    return state().catch(() => null);
  });
  if (hasEnded(child)) throw new Error('Something else already serves at the port of the bench.');
  return { child, seconds: (performance.now() - startedMs) / 1000 };
}

const hasEnded = (child: ChildProcess): boolean => child.exitCode !== null || child.signalCode !== null;

async function ended(child: ChildProcess): Promise<void> {
  if (hasEnded(child)) throw new Error(`The server ended by itself, with ${child.exitCode ?? child.signalCode}.`);
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await gone;
  // npm ends before the server that it started.
  await until(() =>
    state().then(
      () => null,
      () => true,
    ),
  );
}

/** Processor seconds of a process and its children, from /proc. */
function processorSeconds(pids: readonly number[]): number {
  return pids.reduce((sum, pid) => {
    try {
      const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]?.split(' ') ?? [];
      return sum + (Number(fields[11]) + Number(fields[12])) / 100;
    } catch {
      return sum;
    }
  }, 0);
}
/**
 * The browser with all that it has started: the one that draws the page is not the one that was launched, and does not carry
 * its arguments.
 */
function browserPids(): number[] {
  const all = readdirSync('/proc').flatMap((entry) => {
    if (!/^\d+$/.test(entry)) return [];
    try {
      const parent = readFileSync(`/proc/${entry}/stat`, 'utf8').split(') ')[1]?.split(' ')[1];
      const marked = readFileSync(`/proc/${entry}/cmdline`, 'utf8').includes('--mellow-bench');
      return [{ pid: Number(entry), parent: Number(parent), marked }];
    } catch {
      return [];
    }
  });
  const found = new Set(all.filter(({ marked }) => marked).map(({ pid }) => pid));
  for (let known = 0; known < found.size;) {
    known = found.size;
    for (const { pid, parent } of all) if (found.has(parent)) found.add(pid);
  }
  return [...found];
}

export async function benchProgram(folder: string): Promise<BenchResult[]> {
  const data = join(folder, 'data');
  const first = await servingTimeS(data);
  await ended(first.child);
  const second = await servingTimeS(data);
  const results = [
    figure('from npm start to serving, first start on a data folder', first.seconds, 's'),
    figure('from npm start to serving, second start', second.seconds, 's'),
  ];
  const game = { ...plainPracticeGame, widthPx: 640, heightPx: 360, capFps: 60 };
  const setup = setupSchema.parse(
    await api('/setups', { name: 'Bench', brief: { purpose: 'long-play', sessionMinutes: 10 }, game }),
  );
  await api(`/setups/${setup.id}/trials`, { lengthS: 15 });
  results.push(...(await pageShare(setup.id)));
  await until(async () => ((await state()).recorder === 'idle' ? true : null));
  const take = takeListSchema.parse(await api('/takes'))[0];
  const { latenessUs } = takeClosingSchema.parse(
    JSON.parse(readFileSync(join(data, 'takes', take?.id ?? '', 'closing.json'), 'utf8')),
  );
  if (latenessUs)
    results.push(
      figure('lateness of the real clock, median', latenessUs.median / 1000, 'ms'),
      atMost('lateness of the real clock, 95 %', latenessUs.p95 / 1000, 'ms', 2),
    );
  if (take) results.push(...forecastErrors(take));
  results.push(...(await longestTask(setup.id)));
  results.push(atMost('time to notice a dead recorder', await noticeTimeMs(setup.id, data), 'ms', 200));
  await ended(second.child);
  return results;
}

/** How far the forecast was off from what the trial found. */
function forecastErrors(take: Take): BenchResult[] {
  const error = errorOf(take);
  const due = take.summary?.due ?? 0;
  const lost = due - (take.summary?.filed ?? 0);
  return [
    ...(error?.bitsRatio ? [figure('size of a first trial, found / predicted', error.bitsRatio, '')] : []),
    ...(error?.encodeRatio
      ? [figure('busiest 1 % of Encode of a first trial, found / predicted', error.encodeRatio, '')]
      : []),
    figure(
      'misses of a first trial, found - predicted',
      due ? lost * 6 - (take.prediction?.missesPerMinute.value ?? 0) : 0,
      'a minute',
    ),
  ];
}

/** The longest task of the page while a bead is dragged along its rail. */
async function longestTask(setupId: string): Promise<BenchResult[]> {
  if (!existsSync(executablePath)) return [];
  const browser = await chromium.launch({ executablePath, args: browserArgs });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${url}/setups/${setupId}/path`);
  await page.locator('.strip-bars').waitFor();
  const box = await page.locator('.number-rail .MuiSlider-root').first().boundingBox();
  if (!box) throw new Error('The rail of quality is not on the page.');
  // What the page does to come up is not what a drag asks of it.
  await page.waitForTimeout(1500);
  await page.evaluate(
    'globalThis.longTasks = []; new PerformanceObserver((list) => list.getEntries().forEach((entry) => longTasks.push(entry.duration))).observe({ type: "longtask" });',
  );
  await page.mouse.move(box.x + box.width * 0.3, box.y + 10);
  await page.mouse.down();
  for (let i = 0; i <= 60; i++) await page.mouse.move(box.x + box.width * (0.3 + 0.008 * i), box.y + 10, { steps: 2 });
  const tasks = z.array(z.number()).parse(await page.evaluate('globalThis.longTasks'));
  await browser.close();
  // A task under 50 ms is not reported by the browser.
  return [atMost('longest task of the page while a bead is dragged (0: under 50)', Math.max(0, ...tasks), 'ms', 50)];
}

/** Processor share of the browser that shows the live path, of one core, over five seconds of rolling; then drawn as it comes. */
async function pageShare(setupId: string): Promise<BenchResult[]> {
  if (!existsSync(executablePath)) return [];
  const browser = await chromium.launch({ executablePath, args: browserArgs });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${url}/setups/${setupId}/roll`);
  const untilRolled = (us: number) =>
    until(async () => (((await state()).take?.elapsedUs ?? 0) > us ? true : null), 200);
  const pids = browserPids();
  const shareUntil = async (us: number): Promise<number> => {
    const before = processorSeconds(pids);
    const fromMs = performance.now();
    await untilRolled(us);
    return (processorSeconds(pids) - before) / ((performance.now() - fromMs) / 1000);
  };
  await untilRolled(1e6);
  const asItOpens = await shareUntil(6e6);
  await page.getByRole('button', { name: /^drawn once a second/ }).click();
  await untilRolled(8e6);
  const lively = await shareUntil(13e6);
  await browser.close();
  return [
    atMost('processor of the page while rolling, drawn in software', asItOpens, 'cores', 0.1),
    figure('the same, drawn as it comes', lively, 'cores'),
  ];
}

async function noticeTimeMs(setupId: string, data: string): Promise<number> {
  await api(`/setups/${setupId}/trials`, { lengthS: 30 });
  const rolling = await until(async () => {
    const now = await state();
    return (now.take?.elapsedUs ?? 0) > 1.5e6 ? now : null;
  });
  const { enginePid } = JSON.parse(
    readFileSync(join(data, 'takes', rolling.take?.takeId ?? '', 'header.json'), 'utf8'),
  ) as { enginePid: number };
  const startedMs = performance.now();
  process.kill(enginePid, 'SIGKILL');
  await until(
    async () => ((await state()).take?.state === 'rescuing' || (await state()).recorder === 'idle' ? true : null),
    2,
  );
  const noticed = performance.now() - startedMs;
  await until(async () => ((await state()).recorder === 'idle' ? true : null));
  return noticed;
}
