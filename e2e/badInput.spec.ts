import { expect, test } from '@playwright/test';
import { problemSchema } from '@mellow/model';

/** Asked from a page of the program itself, in Chromium: method, address, body, status. */
const cases: [string, string, string | null, number][] = [
  ['GET', '/api/setups/nobody', null, 404],
  ['PATCH', '/api/setups/nobody', '{"name":"x"}', 404],
  ['PATCH', '/api/setups/nobody', '{"name":5}', 400],
  ['DELETE', '/api/setups/nobody', null, 404],
  ['PUT', '/api/setups/nobody/draft', '{"recipe":{"rate":"fast"}}', 400],
  ['POST', '/api/setups/nobody/undo', '{}', 404],
  ['POST', '/api/setups/nobody/trials', '{"lengthS":4}', 404],
  ['POST', '/api/setups/nobody/trials', '{"lengthS":"long"}', 400],
  ['POST', '/api/setups', '{"name":"x","brief":{"purpose":"fame","sessionMinutes":1}}', 400],
  ['POST', '/api/setups', '{"name":', 400],
  ['POST', '/api/setups', JSON.stringify({ name: 'x'.repeat(90_000) }), 413],
  ['POST', '/api/recorder/stop', '{}', 409],
  ['GET', '/api/takes/nobody', null, 404],
  ['DELETE', '/api/takes/nobody', null, 404],
  ['GET', '/api/takes/nobody/file', null, 404],
  ['GET', '/api/takes/..%2F..%2F..%2Fetc%2Fpasswd/file', null, 404],
  ['GET', '/api/takes/nobody/media?lane=9', null, 400],
  ['GET', '/api/takes/nobody/still', null, 404],
  ['GET', '/api/takes/nobody/ledger?from=first', null, 400],
  ['GET', '/api/takes/nobody/pyramid?buckets=1', null, 400],
  ['GET', '/api/takes/nobody/losses', null, 404],
  ['GET', '/api/takes/nobody/seconds', null, 404],
  ['GET', '/api/takes/nobody/ledger.csv', null, 404],
  ['GET', '/api/takes/nobody/log', null, 404],
  ['POST', '/api/drives', '{"name":"x","folder":"/etc/mellow"}', 403],
  ['POST', '/api/drives', '{"name":"x","folder":"../up"}', 400],
  ['POST', '/api/drives', '{"name":"x","folder":"/nowhere/at/all"}', 409],
  ['POST', '/api/drives/nobody/measure', '{}', 404],
  ['DELETE', '/api/drives/nobody', null, 404],
  ['GET', '/api/anything', null, 404],
];

test('bad input to each route is told in a problem document', async ({ page }) => {
  await page.goto('/takes');
  for (const [method, path, body, status] of cases) {
    const answer = await page.evaluate(
      async (given) => {
        const response = await fetch(given.path, {
          method: given.method,
          ...(given.body === null ? {} : { body: given.body, headers: { 'Content-Type': 'application/json' } }),
        });
        return { status: response.status, type: response.headers.get('content-type'), text: await response.text() };
      },
      { method, path, body },
    );
    expect([method, path, answer.status]).toEqual([method, path, status]);
    expect(answer.type).toContain('application/problem+json');
    const problem = problemSchema.parse(JSON.parse(answer.text));
    expect(problem.type).toMatch(/^\/problems\/[a-z-]+$/);
    expect(problem.detail.length).toBeGreaterThan(20);
  }
});

test('a page of another origin is refused, and nothing happens', async ({ page, request, baseURL }) => {
  for (const origin of ['https://elsewhere.example', 'null', 'http://127.0.0.1.elsewhere.example']) {
    const answer = await request.post('/api/setups', {
      headers: { Origin: origin },
      data: { name: 'Foreign', brief: { purpose: 'lesson', sessionMinutes: 5 } },
    });
    expect(answer.status()).toBe(403);
    expect(problemSchema.parse(await answer.json()).type).toBe('/problems/foreign-origin');
  }
  // The same from a real foreign page in the browser: it does not even get to read the answer.
  await page.route('http://elsewhere.example/', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<title>elsewhere</title>' }),
  );
  await page.goto('http://elsewhere.example/');
  const read = await page.evaluate(
    async (url) =>
      fetch(`${url}/api/takes`).then(
        () => 'read',
        () => 'refused',
      ),
    baseURL,
  );
  expect(read).toBe('refused');
  await page.goto('/setups');
  await expect(page.getByText('Foreign')).toHaveCount(0);
});
