import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { defineConfig } from '@playwright/test';

/** Three ports that nobody has; found once, and handed on to the workers, which load this file again. */
const ports = (process.env['MELLOW_E2E_PORTS'] ??= execFileSync(process.execPath, [
  '-e',
  "const net=require('net');const all=[0,1,2].map(()=>net.createServer().listen(0,'127.0.0.1'));setTimeout(()=>{process.stdout.write(all.map(s=>s.address().port).join());all.forEach(s=>s.close())},100)",
]).toString())
  .split(',')
  .map(Number);
const [freshPort = 0, demoPort = 0, tuningPort = 0] = ports;

const root = fileURLToPath(new URL('..', import.meta.url));
const executablePath =
  process.env['CHROMIUM_PATH'] ?? ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find(existsSync);
const folder = `${root}test-results/e2e-data-${process.pid}`;
const start = (port: number, name: string, args: string, env: Record<string, string> = {}) => ({
  command: `node apps/server/build/main.mjs ${args}`,
  cwd: root,
  url: `http://127.0.0.1:${port}/api/state`,
  env: {
    PORT: String(port),
    MELLOW_DATA: `${folder}/${name}`,
    MELLOW_WARM_UP_S: '0.5',
    MELLOW_BASELINE_S: '0.5',
    MELLOW_PAIRS: '1',
    MELLOW_HANG_MS: '4000',
    // Whatever display the tests run under: the program has none.
    DISPLAY: '',
    // Whatever can be heard here: the program hears stand-ins and its page.
    PULSE_SERVER: `unix:${folder}/no-sound-system`,
    ...env,
  },
  reuseExistingServer: false,
  timeout: 60_000,
  gracefulShutdown: { signal: 'SIGTERM' as const, timeout: 10_000 },
});

/**
 * The real program three times: begun fresh, and twice with the demo, which one of them removes. Tests of one program
 * follow one another; two programs are tried at once, as the tests wait for states and not for moments.
 */
export default defineConfig({
  testDir: '.',
  outputDir: `${root}test-results/e2e`,
  workers: 2,
  retries: 0,
  timeout: 90_000,
  expect: { timeout: 30_000 },
  reporter: [
    ['list'],
    ['json', { outputFile: process.env['PLAYWRIGHT_JSON_OUTPUT_NAME'] ?? `${root}test-results/e2e.json` }],
  ],
  use: {
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write', 'microphone'],
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
        // A microphone that beeps once a second.
        '--use-fake-ui-for-media-stream',
        '--use-fake-device-for-media-stream',
      ],
    },
  },
  projects: [
    {
      name: 'fresh',
      workers: 1,
      testMatch: /(fresh|badInput|game|roll|hindsight|stateWindow)\.spec\.ts/,
      use: { baseURL: `http://127.0.0.1:${freshPort}` },
    },
    {
      name: 'demo',
      workers: 1,
      testMatch: /(demo|access)\.spec\.ts/,
      use: { baseURL: `http://127.0.0.1:${demoPort}` },
    },
    {
      name: 'tuning',
      workers: 1,
      testMatch: /(tuning|sound)\.spec\.ts/,
      use: { baseURL: `http://127.0.0.1:${tuningPort}` },
    },
  ],
  webServer: [start(freshPort, 'fresh', '--fresh'), start(demoPort, 'demo', ''), start(tuningPort, 'tuning', '')],
  metadata: { folder },
});
