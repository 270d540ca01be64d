import { chromium, type CDPSession } from '@playwright/test';
import { takeSchema } from '@mellow/model';
import { openProgram } from '../apps/server/test/support/program';
import { atMost, figure, type BenchResult } from './measure';

const measureMs = 15_000;
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** What the page itself costs while a take rolls, as it is and drawn once a second: time of its main thread (Chromium's own count). */
export async function benchPage(): Promise<BenchResult[]> {
  const program = await openProgram();
  program.start();
  await program.serving();
  const setup = await program.smallSetup();
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM_PATH'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage', '--disable-quic'],
  });
  try {
    takeSchema.parse(await program.post(`/setups/${setup.id}/trials`, { kind: 'full', lengthS: null }));
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`http://127.0.0.1:${program.port}/setups/${setup.id}/roll`);
    await page.getByText('Rolls until it is stopped.').waitFor();
    const session = await page.context().newCDPSession(page);
    await session.send('Performance.enable');
    await pause(3000);
    const lively = await busyMsPerSecond(session);
    await page.getByRole('button', { name: 'draw once a second' }).click();
    await pause(2000);
    const quiet = await busyMsPerSecond(session);
    await program.post('/recorder/stop');
    await program.idle();
    return [
      figure('page while rolling, its main thread', lively, 'ms a second'),
      figure('page drawn once a second, its main thread', quiet, 'ms a second'),
      atMost('page drawn once a second, against as it is', quiet / lively, 'of its time', 0.5),
    ];
  } finally {
    await browser.close();
    program.close();
  }
}

async function busyMsPerSecond(session: CDPSession): Promise<number> {
  const busy = async (): Promise<number> =>
    (await session.send('Performance.getMetrics')).metrics.find(({ name }) => name === 'TaskDuration')?.value ?? 0;
  const [before, fromMs] = [await busy(), performance.now()];
  await pause(measureMs);
  return (((await busy()) - before) * 1000) / ((performance.now() - fromMs) / 1000);
}
