import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { defineConfig } from '@playwright/test';

const root = fileURLToPath(new URL('..', import.meta.url));
const executablePath =
  process.env['CHROMIUM_PATH'] ?? ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find(existsSync);
const folder = `${root}test-results/e2e-data-${process.pid}`;
const start = (port: number, name: string, args: string, env: Record<string, string> = {}) => ({
  command: `node --import tsx apps/server/src/main.ts ${args}`,
  cwd: root,
  url: `http://127.0.0.1:${port}/api/state`,
  env: {
    PORT: String(port),
    MELLOW_DATA: `${folder}/${name}`,
    MELLOW_BASELINE_S: '0.5',
    MELLOW_HANG_MS: '4000',
    ...env,
  },
  reuseExistingServer: false,
  timeout: 60_000,
  gracefulShutdown: { signal: 'SIGTERM' as const, timeout: 10_000 },
});

/** The real program three times: begun fresh, and twice with the demo, which one of them removes. One browser, one worker: takes need the processor. */
export default defineConfig({
  testDir: '.',
  outputDir: `${root}test-results/e2e`,
  workers: 1,
  retries: 0,
  timeout: 90_000,
  expect: { timeout: 30_000 },
  reporter: [
    ['list'],
    ['json', { outputFile: process.env['PLAYWRIGHT_JSON_OUTPUT_NAME'] ?? `${root}test-results/e2e.json` }],
  ],
  use: {
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: {
      ...(executablePath ? { executablePath } : {}),
      args: [
        '--no-sandbox',
        '--disable-dev-shm-usage',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
  projects: [
    { name: 'fresh', testMatch: /(fresh|badInput)\.spec\.ts/, use: { baseURL: 'http://127.0.0.1:4871' } },
    { name: 'demo', testMatch: /demo\.spec\.ts/, use: { baseURL: 'http://127.0.0.1:4872' } },
    { name: 'tuning', testMatch: /tuning\.spec\.ts/, use: { baseURL: 'http://127.0.0.1:4873' } },
  ],
  webServer: [start(4871, 'fresh', '--fresh'), start(4872, 'demo', ''), start(4873, 'tuning', '')],
  metadata: { folder },
});
