import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { liveStateSchema } from '@mellow/model';
import { choose, enginePid, makeTrial, smallSetup, station, stopTrial, untilVerdict, watchErrors } from './support';

test.describe.configure({ mode: 'serial' });

test('a first run says what there is to do', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto('/');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/this PC can say what it records/);
  await expect(page.getByText('Say what the footage is for')).toBeVisible();
  await expect(page.getByText('cores,')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Remove the demo' })).toHaveCount(0);
  await page.goto('/takes');
  await expect(page.getByText('Nothing was recorded yet.')).toBeVisible();
  await page.goto('/nowhere');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('There is nothing at this address.');
  await page.goto('/setups/nobody/path');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('This setup is not here.');
  await page.goto('/takes/nobody');
  await expect(page.getByText('There is no take "nobody"')).toBeVisible();
  expect(errors).toEqual([]);
});

test('one real trial, from a setup to a verdict; a reload and a second tab show the same', async ({
  page,
  context,
}) => {
  const errors = watchErrors(page);
  await smallSetup(page);
  // It rolls until this test stops it, however slow the machine is.
  await page.getByLabel('Length of the trial').selectOption('300');
  await page.getByRole('button', { name: /Make a trial/ }).click();
  await expect(page).toHaveURL(/\/roll$/);
  await expect(page.getByRole('status').filter({ hasText: /ends in/ })).toBeVisible();
  await page.reload();
  await expect(page.getByText('trial 1 of')).toBeVisible();
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByText('trial 1 of')).toBeVisible();
  await stopTrial(page);
  await untilVerdict(page);
  await untilVerdict(second);
  expect(second.url()).toBe(page.url());
  await second.close();

  const facts = page.getByRole('table').first();
  await expect(facts.getByRole('row', { name: /Picture/ })).toContainText('equal, 30 fps');
  await expect(facts.getByRole('row', { name: /Length/ })).toContainText(/\d s/);
  await expect(facts.getByRole('row', { name: /Sound/ })).toContainText('1 lane, FLAC');
  await expect(facts.getByRole('row', { name: /Play cost/ })).toContainText('one turn without and with recording');
  const video = page.getByLabel('Trial 1', { exact: true });
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.readyState)).toBeGreaterThanOrEqual(2);
  expect(await video.evaluate((v: HTMLVideoElement) => v.duration)).toBeGreaterThan(0.5);
  await page.getByRole('button', { name: 'Play' }).click();
  const from = await video.evaluate((v: HTMLVideoElement) => v.currentTime);
  await expect.poll(() => video.evaluate((v: HTMLVideoElement) => v.currentTime)).toBeGreaterThan(from);
  expect(errors).toEqual([]);
});

test('the take’s file, ledger and path are within reach', async ({ page }) => {
  await page.goto('/takes');
  await page.getByRole('link', { name: /trial 1/ }).click();
  await page.getByRole('button', { name: 'Copy the path of the file' }).click();
  await expect(page.getByText('Path copied')).toBeVisible();
  const path = await page.evaluate(() => navigator.clipboard.readText());
  expect(existsSync(path)).toBe(true);
  expect(readFileSync(path).subarray(0, 4).toString('hex')).toBe('1a45dfa3');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /Ledger, CSV/ }).click();
  const csv = readFileSync(await (await download).path(), 'utf8')
    .trimEnd()
    .split('\r\n');
  expect(csv[0]).toMatch(/^frame,due_us,source_us/);
  const due = /(\d+) frames due/.exec(await page.getByRole('row', { name: /Frames/ }).innerText())?.[1];
  expect(csv).toHaveLength(Number(due) + 1);
  await page.getByRole('button', { name: /The log of this take/ }).click();
  await expect(page.getByText(/nothing to report|:\d\d/).first()).toBeVisible();
});

test('the timeline is reached and moved by keys, and its misses stand in a table', async ({ page }) => {
  await page.goto('/takes');
  await page.getByRole('link', { name: /trial 1/ }).click();
  const slider = page.getByRole('slider', { name: 'Position in the take' });
  // The player begins in the middle once it has loaded.
  await expect(slider).not.toHaveAttribute('aria-valuenow', '0');
  await slider.focus();
  await slider.press('Home');
  await expect(slider).toHaveAttribute('aria-valuenow', '0');
  await slider.press('Shift+ArrowRight');
  await expect(slider).toHaveAttribute('aria-valuenow', '1');
  await slider.press('ArrowRight');
  await expect(slider).toHaveAttribute('aria-valuenow', '1.03');
  await slider.press('+');
  await expect(page.getByRole('button', { name: 'Whole take' })).toBeVisible();
  await page.getByRole('button', { name: 'Misses as a table' }).click();
  await expect(page.getByText('No frame was lost.').or(page.getByRole('cell', { name: /miss/ }).first())).toBeVisible();
});

test('one change, another trial, both in the list; an unchanged repeat; one deleted', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto('/takes');
  await page.getByRole('link', { name: /trial 1/ }).click();
  await page.getByRole('link', { name: 'Change one thing' }).click();
  await station(page, 'Encode');
  const quality = page.getByRole('textbox', { name: 'Quality' });
  await quality.fill('99');
  await quality.press('Enter');
  await expect(page.getByRole('alert')).toContainText('99 is not between 0 and 51.');
  await page.getByRole('button', { name: /Put back 24/ }).click();
  await quality.fill('30');
  await quality.press('Enter');
  await expect(page.getByText(/Draft, from recipe/)).toContainText('quality 24 to 30');
  await page.getByLabel('Length of the trial').selectOption('4');
  await makeTrial(page);
  await page.getByRole('button', { name: 'Repeat unchanged' }).click();
  await expect(page).toHaveURL(/\/roll$/);
  await untilVerdict(page);
  await page.getByRole('link', { name: 'As light as it gets' }).click();
  await expect(page.getByRole('row', { name: /quality 24 to 30/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /unchanged/ })).toBeVisible();
  await expect(page.getByRole('row')).toHaveCount(4);
  await page.getByRole('button', { name: 'Delete trial 3' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete trial 3' }).click();
  await expect(page.getByRole('row')).toHaveCount(3);
  expect(errors).toEqual([]);
});

test('stop is held, not clicked; the take is kept', async ({ page }) => {
  await page.goto('/takes');
  await page.getByRole('link', { name: /trial 1/ }).click();
  await page.getByRole('link', { name: 'Change one thing' }).click();
  await page.getByLabel('Length of the trial').selectOption('60');
  await page.getByRole('button', { name: /Make a trial/ }).click();
  const stop = page.getByRole('button', { name: /Stop/ });
  await expect(page.getByRole('status').filter({ hasText: /ends in/ })).toBeVisible();
  await stop.click();
  await stopTrial(page);
  await untilVerdict(page);
  await expect(page.getByRole('row', { name: /Length/ }).first()).toContainText('60.00 s');
});

test('the recorder is killed: the page says what happened, the take says what is there, the next trial works', async ({
  page,
}, info) => {
  await page.goto('/takes');
  await page.getByRole('link', { name: /trial 1/ }).click();
  await page.getByRole('link', { name: 'Change one thing' }).click();
  await page.getByLabel('Length of the trial').selectOption('60');
  await page.getByRole('button', { name: /Make a trial/ }).click();
  await expect(page.getByRole('timer')).toHaveText('0:00:03');
  const { take } = liveStateSchema.parse(await (await page.request.get('/api/state')).json());
  process.kill(enginePid(info, take?.takeId ?? ''), 'SIGKILL');
  await untilVerdict(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    /^Rescued: \d.* s can be played, the last \d.* s are lost/,
  );
  await expect(page.getByRole('alert')).toContainText('The recorder died while rolling');
  await page.getByRole('button', { name: 'Put away' }).click();
  await page.reload();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Rescued/);
  await expect(page.getByRole('alert')).toHaveCount(0);
  await page.getByRole('link', { name: 'Change one thing' }).click();
  await page.getByLabel('Length of the trial').selectOption('4');
  await makeTrial(page);
});

test('the drive gets full: a stand-in drive with a quota, added through the page', async ({ page }, info) => {
  const folder = join((info.config.metadata as { folder: string }).folder, 'fresh/tiny');
  mkdirSync(folder, { recursive: true });
  await page.goto('/takes');
  await page.getByRole('link', { name: /trial 1/ }).click();
  await page.getByRole('link', { name: 'Change one thing' }).click();
  await station(page, 'Drive');
  await page.getByRole('button', { name: 'Add a folder' }).click();
  await page.getByRole('textbox', { name: /^Name/ }).fill('Tiny');
  await page.getByRole('textbox', { name: /^Folder/ }).fill('relative/place');
  await page.getByRole('textbox', { name: /^Quota/ }).fill('0.5');
  await page.getByRole('dialog').getByRole('button', { name: 'Add the folder' }).click();
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('no complete path');
  await page.getByRole('textbox', { name: /^Folder/ }).fill(folder);
  await page.getByRole('dialog').getByRole('button', { name: 'Add the folder' }).click();
  await expect(page.getByRole('radio', { name: 'Tiny' })).toHaveAttribute('aria-checked', 'true');
  await station(page, 'Encode');
  await choose(page.getByRole('radio', { name: 'constant bitrate' }));
  await page.getByLabel('Length of the trial').selectOption('30');
  await page.getByRole('button', { name: /Make a trial/ }).click();
  await untilVerdict(page);
  await expect(page.getByRole('alert').first()).toContainText('The drive is full');
  await page.getByRole('link', { name: 'Change one thing' }).click();
  await station(page, 'Drive');
  await page.getByRole('radio', { name: 'Footage' }).click();
  await page.getByLabel('Length of the trial').selectOption('4');
  await makeTrial(page);
});

test('a clash stops the trial and its remedy settles it; undo brings it back', async ({ page }) => {
  await page.goto('/setups');
  await page.getByRole('link', { name: 'As light as it gets' }).first().click();
  await station(page, 'Size');
  const width = page.getByRole('textbox', { name: 'Width' });
  await width.fill('641');
  await width.press('Enter');
  await expect(page.getByRole('heading', { name: '641×360 has an odd side' })).toBeVisible();
  await expect(page.getByRole('button', { name: /Make a trial/ })).toBeDisabled();
  await page.getByRole('button', { name: 'Use 640×360' }).first().click();
  await expect(page.getByRole('button', { name: /Make a trial/ })).toBeEnabled();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('heading', { name: '641×360 has an odd side' })).toBeVisible();
  await page.getByRole('button', { name: 'Use 640×360' }).first().click();
  await station(page, 'Capture');
  const rate = page.getByRole('textbox', { name: 'Frame rate, typed' });
  await rate.fill('fast');
  await rate.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: '"fast" is no rate from 1 to 480' })).toBeVisible();
  await rate.fill('30000/1001');
  await rate.press('Enter');
  await expect(page.getByText('Straight from the game, 29.97 fps')).toBeVisible();
});

test('keys: the list of them, stations, search; none acts while typing', async ({ page }) => {
  await page.goto('/setups');
  await page.getByRole('link', { name: 'As light as it gets' }).first().click();
  await expect(page.getByRole('heading', { name: 'Encode' })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press(']');
  await expect(page.getByRole('heading', { name: 'Pack' })).toBeVisible();
  await page.keyboard.press('[');
  await page.keyboard.press('[');
  await expect(page.getByRole('heading', { name: 'Size', exact: true })).toBeVisible();
  await page.getByRole('textbox', { name: 'Width' }).focus();
  await page.keyboard.press(']');
  await expect(page.getByRole('heading', { name: 'Size', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').fill('trial 1');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/takes\//);
});
