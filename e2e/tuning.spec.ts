import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { recipeCardSchema } from '@mellow/model';
import { station, watchErrors } from './support';

const open = async (page: Page, name: string, place: 'path' | 'brief' | 'card' = 'path') => {
  await page.goto('/setups');
  const href = (await page.getByRole('link', { name, exact: true }).first().getAttribute('href')) ?? '';
  await page.goto(href.replace('path', place));
};

test('a new setup begins with its purpose, asks what matters for it, and shows at once what follows', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await page.goto('/setups');
  await page.getByRole('button', { name: /^Slow motion/ }).click();
  await expect(page).toHaveURL(/\/brief$/);
  const follows = page.getByRole('region', { name: 'What follows' });
  await expect(follows.getByRole('heading', { name: /Straight from the game, 120 fps/ })).toBeVisible();
  await expect(page.getByRole('slider', { name: 'Share of the speed' })).toBeVisible();
  await expect(page.getByRole('radiogroup', { name: 'Camera' })).toHaveCount(0);
  await page.getByRole('radio', { name: 'long play' }).click();
  await expect(follows.getByRole('heading', { name: /Straight from the game, 60 fps/ })).toBeVisible();
  await expect(page.getByRole('slider', { name: 'Share of the speed' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Ask them all the same' }).click();
  await expect(page.getByRole('radiogroup', { name: 'Camera' })).toBeVisible();
  await page.getByRole('button', { name: 'picture earlier' }).click();
  await page.getByRole('button', { name: 'picture earlier' }).click();
  await expect(follows.getByRole('heading', { name: /quality 16/ })).toBeVisible();
  await page.getByRole('button', { name: /^Machine: this PC/ }).click();
  await page.getByRole('menuitem', { name: 'Kestrel, simulated' }).click();
  await expect(follows.getByRole('heading', { name: /AVC on graphics card/ })).toBeVisible();
  await expect(page.locator('.demo-tag').first()).toHaveText('Kestrel, simulated');
  await expect(follows.getByText(/before any trial on Kestrel, simulated/)).toBeVisible();
  await page
    .getByRole('button', { name: /^Motion:/ })
    .first()
    .click();
  await page.getByRole('menuitem', { name: 'I do not know' }).click();
  await expect(page.getByRole('button', { name: 'Motion: not known. Change it' }).first()).toBeVisible();
  await page.getByRole('link', { name: 'Go on to Path' }).click();
  await expect(page.getByRole('heading', { name: 'Encode', exact: true })).toBeVisible();
  expect(errors).toEqual([]);
});

test('a value shows what it would change before it is chosen, by pointer and by keys', async ({ page }) => {
  await open(page, 'Comets long play');
  const arrows = page.getByRole('status').filter({ hasText: /^at / });
  await page.getByRole('radio', { name: 'most thorough' }).hover();
  await expect(arrows).toContainText('at most thorough');
  await expect(arrows).toContainText(/picture.*size.*play cost.*misses/);
  await page.getByRole('heading', { name: 'Forecast' }).hover();
  await expect(arrows).toHaveCount(0);
  await page.getByRole('radio', { name: 'light', exact: true }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(arrows).toContainText('at middle');
  await expect(page.getByText(/, unchanged$/)).toBeVisible();
});

test('advice is applied with one press and taken back with one', async ({ page }) => {
  await open(page, 'Comets long play');
  const list = page.getByRole('region', { name: 'Advice' });
  const size = page.locator('.out-size');
  const before = await size.textContent();
  await list.getByRole('button', { name: 'Use FLAC' }).click();
  await expect(size).not.toHaveText(before ?? '');
  await expect(page.getByText(/^Draft, from recipe/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(size).toHaveText(before ?? '');
  await expect(list.getByRole('button', { name: 'Use FLAC' })).toBeVisible();
});

test('a dragged bead shows what its value would change, and the value is taken when it is let go', async ({ page }) => {
  await open(page, 'Comets long play');
  const slider = page.getByRole('slider', { name: 'Quality' });
  await expect(page.locator('.strip-bars')).toBeVisible();
  const box = await slider.locator('xpath=ancestor::span[contains(@class,"MuiSlider-root")]').boundingBox();
  if (!box) throw new Error('the rail is not there');
  await page.mouse.move(box.x + box.width * 0.6, box.y + 10);
  await page.mouse.down();
  for (let i = 0; i <= 20; i++) await page.mouse.move(box.x + box.width * (0.3 + 0.02 * i), box.y + 10);
  await expect(page.getByRole('status').filter({ hasText: /^at \d/ })).toContainText('GB/h');
  await page.mouse.up();
  await expect(page.getByText(/^Draft, from recipe/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/, unchanged$/)).toBeVisible();
});

test('capture: without a display the screen cannot be chosen, and why is said', async ({ page }) => {
  await open(page, 'Comets long play');
  await station(page, 'Capture');
  const source = page.getByRole('radiogroup', { name: 'Source' });
  await expect(page.getByText('No display is known here')).toBeVisible();
  for (const kind of ['window', 'display', 'part of the screen'])
    await expect(source.getByRole('radio', { name: kind })).toBeDisabled();
  await expect(source.getByRole('radio', { name: 'practice game' })).toBeChecked();
});

test('recipes are kept, compared and returned to', async ({ page }) => {
  await open(page, 'Comets long play');
  await page
    .getByRole('button', { name: /^Recipe/ })
    .first()
    .click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: 'Compare Recipe 1' }).check();
  await dialog.getByRole('checkbox', { name: 'Compare Recipe 3' }).check();
  await expect(dialog.getByRole('region', { name: 'Comparison' })).toContainText(
    'effort lightest to light, quality 26 to 24',
  );
  await dialog.getByRole('button', { name: 'Return to Recipe 1' }).click();
  await expect(page.getByText('an earlier one', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/, unchanged$/)).toBeVisible();
});

test('the same recipe stands on another machine, side by side, and the simulated one says so', async ({ page }) => {
  await open(page, 'Comets long play');
  await page.getByRole('button', { name: 'On another machine' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox', { name: 'Other machine' }).selectOption({ label: 'Wren, simulated' });
  await expect(dialog.getByRole('columnheader', { name: 'Wren simulated' })).toBeVisible();
  await expect(dialog.getByRole('row', { name: /^Game, mean/ })).toContainText(/fps.*fps/);
  await expect(dialog.getByRole('row', { name: /^Encode/ })).toContainText(/of 16\.7 ms.*of 16\.7 ms/);
});

test('a card goes out as JSON, Markdown and a picture, and comes in with a report of what does not fit', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await open(page, 'Vale seasons film', 'card');
  const download = async (name: string) => {
    const waiting = page.waitForEvent('download');
    await page.getByRole('button', { name }).click();
    return readFileSync(await (await waiting).path());
  };
  const json = await download('JSON');
  expect(recipeCardSchema.parse(JSON.parse(json.toString())).machine?.origin).toBe('simulated');
  expect((await download('Markdown')).toString()).toMatch(/^# Vale seasons film/);
  expect((await download('PNG')).subarray(1, 4).toString()).toBe('PNG');
  await open(page, 'Comets long play', 'card');
  await page
    .getByLabel('Card to bring in')
    .setInputFiles({ name: 'card.json', mimeType: 'application/json', buffer: json });
  const report = page.getByRole('region', { name: 'The card that was brought in' });
  await expect(report.getByRole('listitem')).toHaveCount(4);
  await expect(report).toContainText('AVC on graphics card does not work here');
  await report.getByRole('button', { name: 'Use it as the draft' }).click();
  await expect(page.getByText('is the draft now')).toBeVisible();
  await page
    .getByLabel('Card to bring in')
    .setInputFiles({ name: 'photo.json', mimeType: 'application/json', buffer: Buffer.from('no card') });
  await expect(page.getByRole('alert')).toContainText('photo.json is no JSON');
  await page
    .getByLabel('Card to bring in')
    .setInputFiles({ name: 'other.json', mimeType: 'application/json', buffer: Buffer.from('{"format":"other"}') });
  await expect(page.getByRole('alert')).toContainText('is no recipe card of this version');
  await page.getByRole('link', { name: 'Path' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/, unchanged$/)).toBeVisible();
  expect(errors).toEqual([]);
});

test('the machine tells what it can do; a simulated one is never taken for measured', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto('/machine');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('has not been measured');
  await page.getByRole('button', { name: /^Try the encoders/ }).click();
  await expect(page.getByRole('table', { name: 'Encoders' })).toBeVisible({ timeout: 90_000 });
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/keeps|encodes/);
  await expect(page.getByRole('row', { name: /^AVC software/ })).toContainText(/\d+/);
  await page.getByRole('button', { name: 'Add a display' }).click();
  await page.getByRole('textbox', { name: 'Width of the display' }).fill('2560');
  await page.getByRole('textbox', { name: 'Width of the display' }).press('Enter');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByText('Display: bars of 135 px above and below in 1080 lines')).toBeVisible();
  await page.getByRole('button', { name: /^Machine:/ }).click();
  await page.getByRole('menuitem', { name: 'Wren, simulated' }).click();
  await expect(page.getByText('every figure here is assumed')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Encoders, assumed' })).toBeVisible();
  await expect(page.getByText('these graphics have no encoder block').first()).toBeVisible();
  expect(errors).toEqual([]);
});

test('drive: a name is put together from pills and read out, and a station goes back to its start', async ({
  page,
}) => {
  await open(page, 'Wren: as light as it gets');
  await station(page, 'Drive');
  await expect(page.getByRole('radio', { name: 'Disk' })).toHaveAttribute('aria-checked', 'true');
  await expect(page.getByText('These drives belong to Wren, a simulated machine.')).toBeVisible();
  await page.getByRole('button', { name: 'Take out kind' }).click();
  await expect(page.getByRole('button', { name: 'Take out kind' })).toHaveCount(0);
  const own = page.getByRole('textbox', { name: 'Add words of your own' });
  await own.fill('night');
  await own.press('Enter');
  await expect(page.getByText(/ night\.mkv$/)).toBeVisible();
  await page.getByRole('button', { name: 'Back to start' }).click();
  await expect(page.getByRole('button', { name: 'Take out kind' })).toBeVisible();
});

test('a simulated take says so on its page, beside what was predicted of it', async ({ page }) => {
  await page.goto('/takes');
  await page.getByRole('link', { name: /Cathedral slow motion, trial 1/ }).click();
  await expect(page.getByText('times from the model of Kestrel')).toBeVisible();
  await expect(page.getByText('simulated', { exact: true }).first()).toBeVisible();
  await page.getByText('Predicted and found').click();
  await expect(page.getByRole('row', { name: /^Misses a minute/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Size/ }).filter({ hasText: 'range' })).toBeVisible();
});
