import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';

/** Every place in both schemes, held against WCAG 2.2 A and AA and axe's best practices. */
const places = ['/', '/setups', '/takes', '/machine'];
const insideSetup = ['brief', 'path', 'sound', 'trials', 'roll', 'card'];

for (const colorScheme of ['light', 'dark'] as const) {
  test.describe(`in the ${colorScheme} scheme`, () => {
    test.use({ colorScheme });
    test('no place has a fault that axe finds', async ({ page }) => {
      test.setTimeout(180_000);
      await page.goto('/setups');
      const setup = await page.getByRole('link', { name: 'Comets long play' }).first().getAttribute('href');
      const base = setup?.match(/^\/setups\/[^/]+/)?.[0] ?? '';
      await page.goto('/takes');
      const take = await page.locator('a[href^="/takes/"]').first().getAttribute('href');
      for (const path of [...places, ...insideSetup.map((step) => `${base}/${step}`), take ?? '/takes']) {
        await page.goto(path);
        await expect(page.locator('h1').first()).toBeAttached();
        await page.waitForLoadState('networkidle', { timeout: 5000 }).catch(() => {});
        const { violations } = await new AxeBuilder({ page })
          .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
          .analyze();
        expect(violations.map(({ id, nodes }) => `${path}: ${id} ${nodes[0]?.html.slice(0, 120)}`)).toEqual([]);
      }
    });
  });
}
