import { expect, test } from '@playwright/test';
import { smallSetup, stopTrial, untilVerdict, watchErrors } from './support';

test('a full take is looked at, rolled until it is stopped, judged, and stands among the takes and not the trials', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await smallSetup(page);
  await page.getByRole('link', { name: 'Roll', exact: true }).click();
  await expect(page.getByRole('heading', { name: /^Ready/ })).toBeVisible();
  await expect(page.getByText('Matroska, survives a crash').last()).toBeVisible();
  // The lanes are heard before anything rolls.
  await expect(page.getByRole('heading', { name: 'Alive now' })).toBeVisible();
  await expect(page.getByText(/dBFS/).first()).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: /^Roll R$/ }).click();
  await expect(page.getByText('Rolls until it is stopped.')).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('p');
  await expect(page.getByRole('status').filter({ hasText: 'Nothing of the pause will be in the file.' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Paused, to the take' })).toBeVisible();
  await page.getByRole('button', { name: /^Go on/ }).click();
  await expect(page.getByRole('link', { name: 'Rolling, to the take' })).toBeVisible();
  await stopTrial(page);
  await untilVerdict(page);
  await expect(page.getByText('Take 1', { exact: true })).toBeVisible();
  await expect(page.getByText('until it is stopped')).toBeVisible();
  await page.goto('/takes');
  await expect(page.getByRole('link', { name: /, take 1$/ })).toBeVisible();
  await page.getByRole('link', { name: /, take 1$/ }).click();
  // Its MP4 takes its place, and gives it back.
  await page.getByRole('button', { name: 'Make an MP4' }).click();
  await page.getByRole('button', { name: 'Keep only the MP4' }).click();
  await expect(page.getByText(/The MP4 is the take, the same in every byte/)).toBeVisible();
  await page.getByRole('link', { name: 'Takes', exact: true }).click();
  await expect(page.getByText(/^Discards of one take/)).toBeVisible();
  await page.goBack();
  await page.getByRole('button', { name: 'Bring it back' }).click();
  await expect(page.getByRole('button', { name: 'Keep only the MP4' })).toBeVisible();
  await page.getByRole('link', { name: 'As light as it gets' }).click();
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('One');
  expect(errors).toEqual([]);
});
