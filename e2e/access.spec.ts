import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';

/** Every place in both schemes, held against WCAG 2.2 A and AA and axe's best practices. */
const places = ['/', '/setups', '/takes', '/machine'];
const insideSetup = ['brief', 'path', 'sound', 'trials', 'roll', 'card'];

/** Tells whether the page has everything that it asked for; its live stream never ends. */
function watchRequests(page: Page): { open(): number } {
  const open = new Set<unknown>();
  page.on('request', (request) => request.resourceType() !== 'eventsource' && open.add(request));
  page.on('requestfinished', (request) => open.delete(request));
  page.on('requestfailed', (request) => open.delete(request));
  page.on('framenavigated', () => open.clear());
  return { open: () => open.size };
}

/** Structure and names are the same in both schemes: what the other one changes is colour. */
const rulesOf = (scheme: 'light' | 'dark', axe: AxeBuilder): AxeBuilder =>
  scheme === 'light'
    ? axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
    : axe.withRules(['color-contrast', 'link-in-text-block']);

for (const colorScheme of ['light', 'dark'] as const) {
  test.describe(`in the ${colorScheme} scheme`, () => {
    test.use({ colorScheme });
    test('no place has a fault that axe finds', async ({ page }) => {
      test.setTimeout(180_000);
      const requests = watchRequests(page);
      await page.goto('/setups');
      const setup = await page.getByRole('link', { name: 'Comets long play' }).first().getAttribute('href');
      const base = setup?.match(/^\/setups\/[^/]+/)?.[0] ?? '';
      await page.goto('/takes');
      const take = await page.locator('a[href^="/takes/"]').first().getAttribute('href');
      for (const path of [...places, ...insideSetup.map((step) => `${base}/${step}`), take ?? '/takes']) {
        await page.goto(path);
        await expect(page.locator('h1').first()).toBeAttached();
        await expect.poll(requests.open).toBe(0);
        // What is being computed anew is paler meanwhile.
        await expect(page.locator('.waiting')).toHaveCount(0);
        const { violations } = await rulesOf(colorScheme, new AxeBuilder({ page })).analyze();
        expect(violations.map(({ id, nodes }) => `${path}: ${id} ${nodes[0]?.html.slice(0, 120)}`)).toEqual([]);
      }
    });
  });
}
