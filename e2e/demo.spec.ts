import { expect, test } from '@playwright/test';
import { choose, watchErrors } from './support';

test.describe.configure({ mode: 'serial' });

test('the demo stands apart on a first run, and its trials can be looked round', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto('/');
  await expect(page.getByText(/6 setups and \d+ trials to look round in/)).toBeVisible();
  await page.getByRole('link', { name: 'Look round' }).click();
  await expect(page.getByRole('row')).toHaveCount(5);
  await page.getByRole('link', { name: 'Trial 4', exact: true }).click();
  await expect(page.getByText('measured on the demo’s PC')).toBeVisible();
  const video = page.getByLabel('Trial 4', { exact: true });
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.readyState)).toBeGreaterThanOrEqual(2);
  await choose(page.getByRole('radio', { name: '2 voice' }));
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentSrc)).toContain('lane=1');
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.readyState)).toBeGreaterThanOrEqual(2);
  expect(errors).toEqual([]);
});

test('encode misses are charged to their station, in chart and table', async ({ page }) => {
  await page.goto('/takes?verdict=look');
  await page.getByRole('link', { name: 'Comets slow motion, trial 1' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/at Encode/);
  await expect(page.getByRole('heading', { name: /encoder is too slow|Encode waited|Encode was late/ })).toBeVisible();
  await page.getByRole('button', { name: 'Misses as a table' }).click();
  const rows = page.getByRole('table', { name: /lost frames/ }).getByRole('row');
  await expect(rows.filter({ hasText: 'queue full' }).first()).toContainText('Encode');
});

test('Path opens with what matters most, and one press of it mends that by the same forecast', async ({ page }) => {
  await page.goto('/setups');
  await page.getByRole('link', { name: 'Cathedral slow motion' }).first().click();
  const line = page.locator('.advice-head').first();
  await expect(line.getByRole('heading', { name: /^Next: / })).toBeVisible();
  const said = await line.getByRole('heading').textContent();
  await line.getByRole('button').click();
  await expect(page.locator('.advice h2').first()).not.toHaveText(said ?? '');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(line.getByRole('heading')).toHaveText(said ?? '');
});

// How much room a place needs does not depend on its colours: each is loaded once, and the window drawn narrower.
test('every place fits 1600, 1280 and 1024 px', async ({ page }) => {
  const errors = watchErrors(page);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await page.goto('/setups');
  const setup = (await page.getByRole('link', { name: 'Comets long play' }).first().getAttribute('href')) ?? '';
  for (const place of [
    '/',
    '/setups',
    setup,
    setup.replace('path', 'brief'),
    setup.replace('path', 'card'),
    setup.replace('path', 'trials'),
    setup.replace('path', 'roll'),
    '/takes',
    '/machine',
  ]) {
    await page.setViewportSize({ width: 1600, height: 800 });
    await page.goto(place);
    await expect(page.getByRole('heading').first()).toBeVisible();
    for (const width of [1600, 1280, 1024]) {
      await page.setViewportSize({ width, height: 800 });
      const tooWide = (): Promise<number> => page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      // Charts follow the window a frame later.
      await expect.poll(tooWide, { message: `${place} at ${width}` }).toBeLessThanOrEqual(0);
    }
  }
  expect(errors).toEqual([]);
});
