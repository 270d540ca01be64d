import { readdirSync } from 'node:fs';
import * as fc from 'fast-check';
import { z } from 'zod';
import { problemSchema, setupListSchema, takeListSchema } from '@mellow/model';
import { fromSchema, type JsonSchema } from './support/fromJsonSchema';
import { openTestServer, type TestServer } from './support/testServer';

/**
 * Asks the API at random, by its own description: whatever comes, nothing fails inside, nothing hangs, and nothing is
 * stored that the schemas forbid. FUZZ_REQUESTS says how many, FUZZ_SEED which; npm run fuzz sends 10 000.
 */
const requests = Number(process.env['FUZZ_REQUESTS'] ?? 400);
const seed = Number(process.env['FUZZ_SEED'] ?? 20_261_126);
const answerPatienceMs = 20_000;

/** Work of many seconds each, and a stream that never ends by itself; each has tests of its own. */
const leftOut = [
  '/api/machines/this/prove',
  '/api/drives/{id}/measure',
  '/api/live',
  // Neither the keyboard of whoever runs the tests nor their desktop is to be touched.
  '/api/keys',
  '/api/takes/{id}/show',
];

interface Operation {
  method: string;
  path: string;
  parameters: { name: string; in: 'path' | 'query'; schema: JsonSchema }[];
  body: JsonSchema | null;
}

let server: TestServer;
let operations: Operation[];
let ids: string[];
beforeAll(async () => {
  server = await openTestServer();
  const setup = await server.smallSetup();
  const take = await server.services.recorder.startTrial(setup.id, 2);
  await server.untilEnded(take.id);
  ids = [setup.id, take.id, 'this', 'footage', 'kestrel'];
  const document = (await (await fetch(`${server.url}/api/openapi.json`)).json()) as {
    paths: Record<
      string,
      Record<
        string,
        { parameters?: Operation['parameters']; requestBody?: { content: Record<string, { schema: JsonSchema }> } }
      >
    >;
  };
  operations = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({
      method,
      path,
      parameters: operation.parameters ?? [],
      body: operation.requestBody?.content['application/json']?.schema ?? null,
    })),
  );
  operations = operations.filter(({ path }) => !leftOut.includes(path));
});
afterAll(() => server.close());

interface Asked {
  operation: Operation;
  path: Record<string, string>;
  query: Record<string, unknown>;
  body: unknown;
}

const anyRequest = (operation: Operation): fc.Arbitrary<Asked> => {
  const of = (place: 'path' | 'query') => operation.parameters.filter((parameter) => parameter.in === place);
  const id = fc.oneof(
    { weight: 5, arbitrary: fc.constantFrom(...ids) },
    { weight: 1, arbitrary: fc.string({ minLength: 1, maxLength: 50 }) },
  );
  return fc.record({
    operation: fc.constant(operation),
    path: fc.record(Object.fromEntries(of('path').map(({ name }) => [name, id]))),
    query: fc.record(Object.fromEntries(of('query').map(({ name, schema }) => [name, fromSchema(schema)])), {
      requiredKeys: [],
    }),
    body: operation.body ? fromSchema(operation.body) : fc.constant(undefined),
  });
};

const wellFormed = (text: string): string => Buffer.from(text, 'utf8').toString('utf8');

async function ask({ operation, path, query, body }: Asked): Promise<{ status: number; text: string }> {
  const place = operation.path.replace(/\{(\w+)\}/g, (_, name: string) =>
    encodeURIComponent(wellFormed(path[name] ?? 'x')),
  );
  const search = new URLSearchParams(Object.entries(query).map(([name, value]) => [name, wellFormed(String(value))]));
  const response = await fetch(`${server.url}${place}${search.size ? `?${search}` : ''}`, {
    method: operation.method.toUpperCase(),
    signal: AbortSignal.timeout(answerPatienceMs),
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
  });
  return { status: response.status, text: await response.text() };
}

it(`${requests} requests at random: no failure inside, no hang, nothing stored that the schemas forbid`, async () => {
  const outside = new Set(readdirSync(server.folder));
  let asked = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.nat().chain((n) => anyRequest(operations[n % operations.length]!)),
      async (request) => {
        const { status, text } = await ask(request);
        asked++;
        const what = `${request.operation.method} ${request.operation.path} ${JSON.stringify(request.body)?.slice(0, 300)}`;
        if (status >= 500) throw new Error(`${status} for ${what}: ${text.slice(0, 300)}`);
        if (status >= 400 && !problemSchema.safeParse(JSON.parse(text)).success)
          throw new Error(`no problem document for ${what}`);
        // What was begun is ended, so that the next request finds the recorder free.
        if (server.services.live.state().take) {
          try {
            server.services.recorder.stop();
          } catch {
            // It has ended by itself.
          }
          await server.untilLive((state) => state.recorder === 'idle' && state.take === null);
        }
      },
    ),
    { numRuns: requests, seed, endOnFailure: true },
  );
  expect(asked).toBe(requests);
  setupListSchema.parse(await (await fetch(`${server.url}/api/setups`)).json());
  takeListSchema.parse(await (await fetch(`${server.url}/api/takes`)).json());
  expect(z.array(z.unknown()).parse(await (await fetch(`${server.url}/api/broken-takes`)).json())).toEqual([]);
  for (const name of readdirSync(server.folder)) expect([...outside, 'log.1.ndjson']).toContain(name);
}, 3_600_000);
