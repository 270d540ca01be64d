import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Locator, type Page, type TestInfo } from '@playwright/test';

/** Everything a page logs as an error fails the test that looked at it. */
export function watchErrors(page: Page): string[] {
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  page.on('console', (message) => {
    // Answers with a problem document are told to the person; the browser logs them as well.
    if (message.type() === 'error' && !message.text().includes('Failed to load resource')) errors.push(message.text());
  });
  return errors;
}

/** Begins a setup of the smallest pictures: 640x360 at 30. */
export async function smallSetup(page: Page): Promise<void> {
  await page.goto('/');
  await page
    .getByRole('button', { name: /As light as it gets/ })
    .first()
    .click();
  await expect(page).toHaveURL(/\/setups\/[^/]+\/brief/);
  await page.getByRole('link', { name: 'Go on to Path' }).click();
  await expect(page).toHaveURL(/\/setups\/[^/]+\/path/);
  await station(page, 'Game');
  await choose(page.getByRole('radio', { name: '640×360' }));
  await choose(page.getByRole('radio', { name: '60 fps' }));
  await station(page, 'Size');
  await choose(page.getByRole('radio', { name: /640×360/ }));
  await page.getByLabel('Length of the trial').selectOption('4');
}

/** Chooses a stop of a rail, and waits until the page shows it there. */
export async function choose(stop: Locator): Promise<void> {
  await stop.click();
  await expect(stop).toBeChecked();
}

export const station = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Frame path' }).getByRole('button', { name, exact: true }).click();

/** Makes a trial and waits for its verdict. */
export async function makeTrial(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Make a/ }).click();
  await expect(page).toHaveURL(/\/roll$/);
  await untilVerdict(page);
}

/** Waits until frames were due, and stops the take: the button is held for half a second. */
export async function stopTrial(page: Page): Promise<void> {
  await expect(page.getByText('Rolling').first()).toBeVisible({ timeout: 60_000 });
  await expect
    .poll(
      async () => ((await (await page.request.get('/api/state')).json()) as { take?: { due: number } }).take?.due ?? 0,
    )
    .toBeGreaterThan(60);
  await page.keyboard.down('s');
  await expect(page.getByText('Closing').first()).toBeVisible();
  await page.keyboard.up('s');
}

export async function untilVerdict(page: Page): Promise<void> {
  await expect(page).toHaveURL(/\/takes\//, { timeout: 60_000 });
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^(Keep it|Look again|Rescued)/);
}

/** Process number of the recorder that makes the take that rolls now, from the take's own header. */
export function enginePid(info: TestInfo, takeId: string): number {
  const folder = (info.config.metadata as { folder: string }).folder;
  const takes = join(folder, 'fresh/takes');
  const id = readdirSync(takes).find((name) => name === takeId) ?? '';
  return (JSON.parse(readFileSync(join(takes, id, 'header.json'), 'utf8')) as { enginePid: number }).enginePid;
}
