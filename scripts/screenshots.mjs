// Takes the pictures in docs/screenshots from the demo: node scripts/screenshots.mjs (after npm run build).
import { spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';

const port = 4878;
const data = join(tmpdir(), 'mellow');
rmSync(data, { recursive: true, force: true });
const base = `http://127.0.0.1:${port}`;
const server = spawn(process.execPath, ['apps/server/build/main.mjs'], {
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
/** What opens the interface to a program: the one that runs left it in its data folder. */
const headers = () => ({
  'Content-Type': 'application/json',
  Authorization: `Bearer ${JSON.parse(readFileSync(join(data, 'access.json'), 'utf8')).token}`,
});
const json = async (path, body) =>
  (
    await fetch(`${base}/api${path}`, {
      headers: headers(),
      ...(body ? { method: 'POST', body: JSON.stringify(body) } : {}),
    })
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
  await page.getByText('Looking ten seconds ahead').waitFor({ state: 'detached' });
  await act(page);
  await page.evaluate(() => Promise.all([...document.images].map((image) => image.decode().catch(() => {}))));
  await page.waitForTimeout(700);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
  await page.close();
}

const setups = await json('/setups');
const comets = setups.find((s) => s.name === 'Comets long play');
const takes = await json('/takes');
const missed = takes.find((t) => (t.summary?.fates['encode-miss'] ?? 0) > 0) ?? takes[0];
await shot('first', '/');
await shot('setups', '/setups');
await shot('brief', `/setups/${setups.find((s) => s.name === 'Vale seasons film').id}/brief`);
await shot('card', `/setups/${setups.find((s) => s.name === 'Vale seasons film').id}/card`);
await json('/machines/this/prove', {});
await shot('machine', '/machine');
await shot('path', `/setups/${comets.id}/path`);
await shot('path-dusk', `/setups/${comets.id}/path`, {
  scheme: 'dark',
  act: (page) =>
    page.getByRole('region', { name: 'Frame path' }).getByRole('button', { name: 'Size', exact: true }).click(),
});
await shot('drive', `/setups/${comets.id}/path`, {
  act: (page) =>
    page.getByRole('region', { name: 'Frame path' }).getByRole('button', { name: 'Drive', exact: true }).click(),
});
await shot('camera', `/setups/${comets.id}/path`, {
  act: async (page) => {
    await page.getByRole('region', { name: 'Frame path' }).getByRole('button', { name: 'Size', exact: true }).click();
    await page.getByRole('radiogroup', { name: 'Camera' }).getByRole('radio', { name: 'over the game' }).check();
    await page.getByRole('img', { name: /file's picture/ }).waitFor();
    await page.waitForTimeout(1500);
  },
});
await json(`/setups/${comets.id}/undo`, {});
// Long enough that every meter has been seen at work.
await shot('sound', `/setups/${comets.id}/sound`, { act: (page) => page.waitForTimeout(9000) });
await shot('trials', `/setups/${comets.id}/trials`);
await shot('take', `/takes/${missed.id}`, { act: (page) => page.waitForTimeout(2500) });
await shot('takes', '/takes');
await fetch(`${base}/api/setups/${comets.id}`, {
  method: 'PATCH',
  headers: headers(),
  body: JSON.stringify({ hindsight: { lengthS: 180, where: 'memory' } }),
});
await shot('ready', `/setups/${comets.id}/roll`, { act: (page) => page.waitForTimeout(6000) });
await shot('keys', `/setups/${comets.id}/roll`, {
  act: (page) => page.getByRole('button', { name: 'Keys in the game' }).click(),
});
// The page is opened first: a browser that starts beside a take would cost it frames.
await shot('roll', `/setups/${comets.id}/roll`, {
  act: async () => {
    await json(`/setups/${comets.id}/trials`, { lengthS: null, kind: 'full' });
    await until(async () => ((await json('/state')).take?.elapsedUs > 6e6 ? true : null));
    await json('/recorder/marks', { note: 'first field' });
    await until(async () => ((await json('/state')).take?.elapsedUs > 14e6 ? true : null));
  },
});
await json('/recorder/stop', {});
await until(async () => ((await json('/state')).recorder === 'idle' ? true : null));
await shot('start', '/');
await browser.close();
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
rmSync(data, { recursive: true, force: true });
