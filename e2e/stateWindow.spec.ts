import { expect, test } from '@playwright/test';
import { smallSetup, stopTrial, untilVerdict, watchErrors } from './support';

/** The browser's own small window is no page of its own to a test: it is read through the page that opened it. */
const shown = () =>
  (globalThis as unknown as { documentPictureInPicture?: { window: Window | null } }).documentPictureInPicture?.window
    ?.document.body.innerText ?? '';

test('the state window stands above, follows the take through every place, and goes when it is closed', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await smallSetup(page);
  await page.getByRole('link', { name: 'Roll', exact: true }).click();
  await expect(page.getByText('It is never in the file.')).toBeVisible();
  await page.getByRole('button', { name: 'State window', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Close the state window' })).toBeVisible();
  await expect.poll(() => page.evaluate(shown)).toContain('Idle');
  await page.getByRole('button', { name: /^Roll R$/ }).click();
  await expect.poll(() => page.evaluate(shown), { timeout: 30_000 }).toMatch(/Rolling 0:00:0\d/);
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await expect.poll(() => page.evaluate(shown)).toMatch(/filed \d+ fps/);
  await page.goBack();
  await page.getByRole('button', { name: /^State window shows/ }).click();
  await page.getByRole('menuitem', { name: 'the clock' }).click();
  await expect.poll(() => page.evaluate(shown)).not.toContain('filed');
  await stopTrial(page);
  await untilVerdict(page);
  await expect.poll(() => page.evaluate(shown)).toContain('Idle');
  await page.goBack();
  await page.getByRole('button', { name: 'Close the state window' }).click();
  await expect(page.getByRole('button', { name: 'State window', exact: true })).toBeVisible();
  await expect.poll(() => page.evaluate(shown)).toBe('');
  expect(errors).toEqual([]);
});

test('where the browser has no such window, a small one of its own opens, in the chosen corner', async ({ page }) => {
  await page.addInitScript(() => Reflect.deleteProperty(globalThis, 'documentPictureInPicture'));
  await smallSetup(page);
  await page.getByRole('link', { name: 'Roll', exact: true }).click();
  const opening = page.waitForEvent('popup');
  await page.getByRole('button', { name: 'State window', exact: true }).click();
  const popup = await opening;
  await expect(popup.getByRole('status', { name: 'Idle' })).toBeVisible();
  await expect(popup.locator('.state-view')).toHaveCSS('display', 'flex');
  await expect(page.getByText('This browser cannot keep it above a game in full screen.')).toBeVisible();
  await popup.close();
  await expect(page.getByRole('button', { name: 'State window', exact: true })).toBeVisible();
});
