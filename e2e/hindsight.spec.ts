import { expect, test } from '@playwright/test';
import { choose, smallSetup, stopTrial, untilVerdict, watchErrors } from './support';

test('minutes are held without a take and kept by key, then beside a take, with marks', async ({ page }) => {
  const errors = watchErrors(page);
  await smallSetup(page);
  await page.getByRole('link', { name: 'Roll', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Hindsight' });
  await expect(panel.getByText('Nothing is held.')).toBeVisible();
  await choose(panel.getByRole('radio', { name: '20 s' }));
  await expect(panel.getByText(/^About .* of memory/)).toBeVisible();
  await panel.getByRole('button', { name: 'Hold from now on' }).click();
  await expect(panel.getByText(/^[2-9] s held/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('link', { name: /^Holding/ })).toBeVisible();
  await page.keyboard.press('l');
  await expect(page.getByText(/are kept$/)).toBeVisible({ timeout: 20_000 });
  await page.getByRole('link', { name: 'See the take' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Kept: /);
  await expect(page.getByText('A clip has no ledger of its own.')).toBeVisible();
  await page.getByRole('button', { name: 'Put away' }).click();
  await page.goBack();
  await page.getByRole('button', { name: /^Roll R$/ }).click();
  await expect(page.getByText('Rolls until it is stopped.')).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('m');
  await page
    .getByRole('button', { name: /Note of the mark at/ })
    .first()
    .click();
  await page.getByRole('textbox', { name: 'Note' }).fill('the gate');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /: the gate/ })).toBeVisible();
  const keep = page.getByRole('button', { name: /^Keep the last 20 s/ });
  await expect(keep).toBeEnabled({ timeout: 20_000 });
  await keep.click();
  await expect(page.getByText(/are kept$/)).toBeVisible({ timeout: 20_000 });
  await stopTrial(page);
  await untilVerdict(page);
  await expect(page.getByRole('region', { name: 'Marks' }).getByRole('listitem')).toHaveCount(2);
  // It holds again by itself, until it is let go.
  await page.getByRole('link', { name: /^(Holding|Begins)/ }).click();
  await page.getByRole('button', { name: 'Let go' }).click();
  await expect(page.getByRole('button', { name: 'Hold from now on' })).toBeVisible();
  await expect(page.getByRole('link', { name: /^(Holding|Begins)/ })).toBeHidden();
  expect(errors).toEqual([]);
});
