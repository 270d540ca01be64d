// Takes the pictures in docs/screenshots from the demo: node scripts/screenshots.mjs (after npm run build).
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';

const port = 4879;
const data = join(tmpdir(), 'mellow-look');
rmSync(data, { recursive: true, force: true });
const base = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, ['--import', 'tsx', 'apps/server/src/main.ts'], {
  stdio: 'ignore',
  env: {
    ...process.env,
    PORT: String(port),
    MELLOW_DATA: data,
    MELLOW_BASELINE_S: '1',
    MELLOW_PAIRS: '1',
    MELLOW_PLAIN_MACHINE: '1',
    // Whatever sounds the PC has on which the pictures are taken: the demo's are its own.
    PULSE_SERVER: 'unix:/nowhere',
  },
});
const json = async (path, body) =>
  (
    await fetch(
      `${base}/api${path}`,
      body
        ? { method: 'POST', headers: { 'Content-Type': 'application/json', Origin: base }, body: JSON.stringify(body) }
        : {},
    )
  ).json();
const until = async (ask) => {
  for (;;) {
    const answer = await ask().catch(() => null);
    if (answer) return answer;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
};
await until(() => json('/state'));
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-dev-shm-usage',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});

async function shot(name, path, { scheme = 'light', act = async () => {} } = {}) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: scheme });
  await page.goto(base + path);
  await page.getByRole('heading').first().waitFor();
  await act(page);
  await page.evaluate(() => Promise.all([...document.images].map((image) => image.decode().catch(() => {}))));
  await page.waitForTimeout(700);
  await page.screenshot({ path: `/tmp/look/${name}.png` });
  await page.close();
}

const patch = async (path, body) =>
  (
    await fetch(`${base}/api${path}`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json', Origin: base },
      body: JSON.stringify(body),
    })
  ).json();
const setups = await json('/setups');
const comets = setups.find((s) => s.name === 'Comets long play');
await shot('ready-off', `/setups/${comets.id}/roll`, { act: (page) => page.waitForTimeout(4000) });
await patch(`/setups/${comets.id}`, { hindsight: { lengthS: 180, where: 'memory' } });
await json('/hindsight/on', { setupId: comets.id });
await until(async () => ((await json('/state')).watching?.held?.heldS > 8 ? true : null));
await shot('ready-on', `/setups/${comets.id}/roll`, { act: (page) => page.waitForTimeout(3000) });
const clip = await json('/recorder/keep', { lastS: 5 });
await shot('clip', `/takes/${clip.id}`, { act: (page) => page.waitForTimeout(1500) });
await shot('rolling', `/setups/${comets.id}/roll`, {
  act: async () => {
    await json(`/setups/${comets.id}/trials`, { lengthS: null, kind: 'full' });
    await until(async () => ((await json('/state')).take?.elapsedUs > 4e6 ? true : null));
    await json('/recorder/marks', { note: 'first field' });
    await until(async () => ((await json('/state')).take?.elapsedUs > 7e6 ? true : null));
    await json('/recorder/marks', {});
    await json('/recorder/keep', { lastS: 3 });
    await until(async () => ((await json('/state')).take?.elapsedUs > 12e6 ? true : null));
  },
});
await json('/recorder/stop', {});
await until(async () => ((await json('/state')).recorder === 'idle' ? true : null));
const full = (await json('/takes')).find((t) => t.kind === 'full');
await shot('full', `/takes/${full.id}`, { scheme: 'dark', act: (page) => page.waitForTimeout(2500) });
await browser.close();
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
rmSync(data, { recursive: true, force: true });
