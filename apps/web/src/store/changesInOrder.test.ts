import { waitFor } from '@testing-library/react';
import type { Recipe, Setup } from '@mellow/model';
import { testSetup } from '../places/path/pathTest.test-support';
import { api } from './api';
import { createStore } from './store';

/** A server that stores at once, and whose answers go out when the test lets them. */
function fakeServer() {
  let setup: Setup = testSetup;
  const log: string[] = [];
  const waiting: { name: string; let: () => void }[] = [];
  globalThis.fetch = (async (request: Request) => {
    const name = `${request.method} ${new URL(request.url).pathname.replace('/api/', '')}`;
    log.push(name);
    if (request.method === 'PUT') setup = { ...setup, draft: ((await request.json()) as { recipe: Recipe }).recipe };
    const body = JSON.stringify(request.method === 'GET' ? [setup] : setup);
    await new Promise<void>((resolve) => waiting.push({ name, let: resolve }));
    // The take that is begun is nobody's concern here.
    const status = name.endsWith('/trials') ? 503 : 200;
    return new Response(body, { status, headers: { 'Content-Type': 'application/json' } });
  }) as typeof fetch;
  const until = (met: () => boolean) => waitFor(() => expect(met()).toBe(true), { interval: 1 });
  return {
    log,
    /** Waits until such an answer is ready, and lets it go out. */
    async answer(name: string) {
      await until(() => waiting.some((w) => w.name === name));
      waiting
        .splice(
          waiting.findIndex((w) => w.name === name),
          1,
        )[0]
        ?.let();
    },
    /** Everything that is ready goes out until nothing is asked any more. */
    async rest(quiet: () => boolean) {
      await until(() => {
        waiting.splice(0).forEach((w) => w.let());
        return quiet();
      });
    },
    stored: () => setup.draft,
  };
}
const realFetch = globalThis.fetch;
afterAll(() => void (globalThis.fetch = realFetch));

const draft = 'PUT setups/s/draft';
const list = 'GET setups';
const withQuality = (recipe: Recipe, quality: number): Recipe => ({ ...recipe, encode: { ...recipe.encode, quality } });

async function begun() {
  const server = fakeServer();
  const store = createStore();
  void store.dispatch(api.endpoints.setups.initiate());
  await server.answer(list);
  const setup = () => api.endpoints.setups.select()(store.getState()).data?.[0];
  const quiet = () =>
    Object.values(store.getState().api.queries).every((q) => q?.status !== 'pending') &&
    Object.values(store.getState().api.mutations).every((m) => m?.status !== 'pending');
  await server.rest(() => setup() !== undefined && quiet());
  const change = (recipe: Recipe) => void store.dispatch(api.endpoints.setDraft.initiate({ id: 's', recipe }));
  return { server, store, setup, quiet, change };
}

describe('changes of a setup', () => {
  it('stay on the page when an older list of setups comes in after them', async () => {
    const { server, store, setup, quiet, change } = await begun();
    const shown: number[] = [];
    change(withQuality(testSetup.draft, 31));
    await server.answer(draft);
    // The list that follows from the first change is made, and is on its way, when the second is made.
    await waitFor(() => expect(server.log.at(-1)).toBe(list), { interval: 1 });
    change(withQuality(testSetup.draft, 32));
    store.subscribe(() => shown.push(setup()?.draft.encode.quality ?? 0));
    await server.answer(list);
    // Read and, were it taken, shown, before the second change is answered.
    for (let turn = 0; turn < 20; turn++) await new Promise((resolve) => setTimeout(resolve, 0));
    await server.rest(quiet);
    expect(new Set(shown)).toEqual(new Set([32]));
    expect([setup()?.draft, server.stored()]).toEqual([server.stored(), withQuality(testSetup.draft, 32)]);
  });
  it('show before the page is drawn again', async () => {
    const { server, store, setup, quiet, change } = await begun();
    const shown: (number | undefined)[] = [];
    store.subscribe(() => shown.push(setup()?.draft.encode.quality));
    change(withQuality(testSetup.draft, 34));
    // What was told without a timer or a frame having passed.
    for (let tick = 0; tick < 20; tick++) await Promise.resolve();
    expect(shown).toContain(34);
    await server.rest(quiet);
  });
  it('go to the server one after another, and before the take that is begun after them', async () => {
    const { server, store, quiet, change } = await begun();
    server.log.length = 0;
    for (const quality of [31, 32]) change(withQuality(testSetup.draft, quality));
    void store.dispatch(api.endpoints.undoDraft.initiate('s'));
    void store.dispatch(api.endpoints.makeTrial.initiate({ setupId: 's', lengthS: 2 }));
    await server.answer(draft);
    expect(server.log).toEqual([draft]);
    await server.answer(draft);
    await server.answer('POST setups/s/undo');
    await server.answer('POST setups/s/trials');
    await server.rest(quiet);
    expect(server.log.slice(0, 4)).toEqual([draft, draft, 'POST setups/s/undo', 'POST setups/s/trials']);
  });
  it('do not wait for a take that is being begun', async () => {
    const { server, store, setup, quiet, change } = await begun();
    void store.dispatch(api.endpoints.makeTrial.initiate({ setupId: 's', lengthS: 2 }));
    change(withQuality(testSetup.draft, 33));
    await server.answer(draft);
    await server.rest(quiet);
    expect(setup()?.draft.encode.quality).toBe(33);
  });
});
