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
  await expect(page.getByRole('heading', { name: /encoder is too slow|taken by others/ })).toBeVisible();
  await page.getByRole('button', { name: 'Misses as a table' }).click();
  const rows = page.getByRole('table', { name: /lost frames/ }).getByRole('row');
  await expect(rows.filter({ hasText: 'queue full' }).first()).toContainText('Encode');
});

for (const width of [1024, 1280, 1600]) {
  for (const colorScheme of ['light', 'dark'] as const) {
    test(`every place fits ${width} px in the ${colorScheme} scheme`, async ({ page }) => {
      const errors = watchErrors(page);
      await page.setViewportSize({ width, height: 800 });
      await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' });
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
        await page.goto(place);
        await expect(page.getByRole('heading').first()).toBeVisible();
        expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth), place).toBeLessThanOrEqual(
          0,
        );
      }
      expect(errors).toEqual([]);
    });
  }
}

test('without the program the page says so, and goes on when it is back', async ({ page }) => {
  let answers = false;
  let asked = 0;
  await page.route('**/api/setups', (route) => {
    asked += 1;
    return answers ? route.continue() : route.abort();
  });
  await page.goto('/setups');
  await expect(page.getByRole('alert')).toContainText('Mellow Frame does not answer');
  const tryAgain = page.getByRole('button', { name: 'Try again' });
  const askedBefore = asked;
  await tryAgain.click();
  await expect.poll(() => asked).toBeGreaterThan(askedBefore);
  answers = true;
  // The page also asks again by itself when the live stream connects: the button may be gone before it is pressed.
  await expect(async () => {
    if (await tryAgain.isVisible()) await tryAgain.click({ timeout: 1000 });
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(/setups/, { timeout: 2000 });
  }).toPass();
});

test('the demo goes with one button', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Remove the demo' }).click();
  await expect(page.getByRole('button', { name: 'Remove the demo' })).toHaveCount(0);
  await page.goto('/takes');
  await expect(page.getByText('Nothing was recorded yet.')).toBeVisible();
});
