import { expect, test, type Locator, type Page } from '@playwright/test';
import { choose, makeTrial, smallSetup, watchErrors } from './support';

const stave = (page: Page, n: number) => page.getByRole('group', { name: `Sounds on lane ${n}` });
const heard = (page: Page) => page.getByRole('region', { name: 'Heard' });
const names = async (page: Page): Promise<string[][]> => {
  const groups = await page.getByRole('group', { name: /^Sounds on lane/ }).all();
  return Promise.all(groups.map((group) => group.getByRole('button').allTextContents()));
};
/** Moves as a hand does, in steps; begins a drag where it starts from something. */
async function carry(page: Page, from: Locator | null, to: Locator): Promise<void> {
  const middle = async (of: Locator): Promise<[number, number]> => {
    const box = await of.boundingBox();
    if (!box) throw new Error('it is not on the page');
    return [box.x + box.width / 2, box.y + box.height / 2];
  };
  if (from) {
    await page.mouse.move(...(await middle(from)));
    await page.mouse.down();
  }
  const [x, y] = await middle(to);
  await page.mouse.move(x, y, { steps: 6 });
  await page.mouse.move(x + 2, y + 2, { steps: 2 });
}
const openSound = async (page: Page): Promise<void> => {
  await page.goto('/setups');
  const href = (await page.getByRole('link', { name: 'Comets long play' }).first().getAttribute('href')) ?? '';
  await page.goto(href.replace('path', 'sound'));
  await expect(page.getByRole('heading', { level: 1 })).toContainText('every sound on them is alive');
};

test('tokens go onto staves by pointer, by keys and by their menu, and undo brings them back', async ({ page }) => {
  const errors = watchErrors(page);
  await openSound(page);
  const before = await names(page);
  expect(before).toEqual([['Game', 'Voice', 'Chat'], ['Voice'], ['Game']]);
  // By pointer: from what is heard to below the last stave.
  const below = page.getByText('A sound brought here gets a lane of its own.');
  await carry(page, heard(page).getByRole('button', { name: 'Chat', exact: true }), below);
  const told = page.getByText('Let go: Chat gets a lane of its own.');
  await expect(told).toBeVisible();
  await carry(page, null, told);
  await page.mouse.up();
  await expect(stave(page, 4).getByRole('button')).toHaveText('Chat');
  // By keys: the chat leaves the first stave for the second.
  await stave(page, 1).getByRole('button', { name: /Chat/ }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('status').filter({ hasText: 'lane 2, Voice' })).toBeAttached();
  await page.keyboard.press('Enter');
  await expect.poll(() => names(page)).toEqual([['Game', 'Voice'], ['Voice', 'Chat'], ['Game'], ['Chat']]);
  // By its menu: a lane that keeps nothing else goes with its last token.
  await stave(page, 4).getByRole('button', { name: /Chat/ }).click();
  await page.getByRole('menuitem', { name: 'Take it off, and the lane with it' }).click();
  await expect.poll(() => names(page)).toEqual([['Game', 'Voice'], ['Voice', 'Chat'], ['Game']]);
  await page.keyboard.press('Escape');
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => names(page)).toEqual(before);
  expect(errors).toEqual([]);
});

test('levels, codecs and names are set where they stand', async ({ page }) => {
  const errors = watchErrors(page);
  await openSound(page);
  await page.getByLabel('Level of Voice', { exact: true }).fill('-6');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('slider', { name: 'Level of Voice on the rail' })).toHaveValue('-6');
  await page.getByRole('button', { name: 'Mute Chat' }).click();
  await expect(heard(page).getByText('muted here')).toBeVisible();
  await page.getByRole('button', { name: /^Lane 2, Voice/ }).click();
  const panel = page.getByRole('region', { name: 'Lane', exact: true });
  await expect(panel.getByRole('heading', { name: 'Lane 2, Voice' })).toBeVisible();
  await choose(panel.getByRole('radio', { name: 'Opus' }));
  await choose(panel.getByRole('radio', { name: '256' }));
  await expect(page.getByRole('button', { name: /^Lane 2, Voice: Opus/ })).toContainText('256');
  await page.getByRole('button', { name: /^Name of lane 2/ }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('My voice');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Lane 2, My voice/ })).toBeVisible();
  await choose(page.getByRole('radio', { name: 'a quiet second and three marks' }));
  await expect(page.getByText(/three marks sound in every lane/)).toBeVisible();
  for (let i = 0; i < 6; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /^Lane 2, Voice: AAC/ })).toBeVisible();
  // The last of them undoes the first change: a page that closes before would leave it to those who come after.
  await expect(page.getByRole('slider', { name: 'Level of Voice on the rail' })).toHaveValue('0');
  expect(errors).toEqual([]);
});

test('the page’s microphone is alive before anything rolls, and in the file afterwards', async ({ page }) => {
  const errors = watchErrors(page);
  await smallSetup(page);
  await page.getByRole('link', { name: 'Sound', exact: true }).click();
  await page.getByRole('button', { name: /^Where Voice comes from/ }).click();
  await page.getByRole('menuitem', { name: 'The browser’s microphone' }).click();
  await expect(heard(page).getByText(/open it on Sound/)).toBeVisible();
  await page.getByRole('button', { name: 'Let this page listen' }).click();
  await expect(page.getByText(/^listens: /)).toBeVisible();
  await expect(heard(page).getByText('alive now')).toHaveCount(2);
  await expect(heard(page).getByRole('img', { name: /^Voice: peak/ })).toBeVisible();
  await page.getByRole('link', { name: 'Path', exact: true }).click();
  await makeTrial(page);
  const facts = page.getByRole('table').first();
  await expect(facts.getByRole('row', { name: /Heard/ })).toContainText('kHz');
  expect(errors).toEqual([]);
});
