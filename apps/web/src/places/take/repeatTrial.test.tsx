import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import type { Setup, Take } from '@mellow/model';
import { createStore } from '../../store/store';
import { testRecipe, testSetup } from '../path/pathTest.test-support';
import { RepeatTrial } from './RepeatTrial';

const take = { id: 't', number: 3, recipe: testRecipe, game: testSetup.game, lengthS: 10 } as Take;
const asked: { method: string; path: string; body: unknown }[] = [];
const realFetch = globalThis.fetch;
beforeEach(() => {
  asked.length = 0;
  globalThis.fetch = (async (input: Request) => {
    asked.push({ method: input.method, path: new URL(input.url).pathname, body: await input.json() });
    // The take that is begun is nobody's concern here.
    const begun = input.url.endsWith('/trials');
    return new Response(JSON.stringify(begun ? {} : testSetup), {
      status: begun ? 503 : 200,
      headers: { 'Content-Type': 'application/json' },
    });
  }) as typeof fetch;
});
afterAll(() => void (globalThis.fetch = realFetch));

const show = (setup: Setup) =>
  render(
    <Provider store={createStore()}>
      <MemoryRouter>
        <RepeatTrial take={take} setup={setup} />
      </MemoryRouter>
    </Provider>,
  );
const changed: Setup = { ...testSetup, game: { ...testSetup.game, capFps: 60 } };
const steps = () => asked.map(({ method, path }) => `${method} ${path.split('/').slice(2).join('/')}`);

describe('repeating a trial', () => {
  it('is one press where game and recipe are as they were', async () => {
    show(testSetup);
    await userEvent.click(screen.getByRole('button', { name: 'Repeat unchanged' }));
    await waitFor(() => expect(steps()).toEqual(['POST setups/s/trials']));
  });
  it('brings back the trial’s recipe before it rolls', async () => {
    show({ ...testSetup, draft: { ...testRecipe, container: 'mp4' } });
    await userEvent.click(screen.getByRole('button', { name: 'Repeat unchanged' }));
    await waitFor(() => expect(steps()).toEqual(['PUT setups/s/draft', 'POST setups/s/trials']));
    expect(asked[0]?.body).toEqual({ recipe: testRecipe });
  });
  it('says what of the game was changed since, and offers both games', async () => {
    show(changed);
    await userEvent.click(screen.getByRole('button', { name: 'Repeat' }));
    expect(screen.getByRole('dialog')).toHaveTextContent(/cap 120 fps, now 60 fps/);
    expect(asked).toEqual([]);
    await userEvent.click(screen.getByRole('button', { name: 'With the game as it is now' }));
    await waitFor(() => expect(steps()).toEqual(['POST setups/s/trials']));
  });
  it('with the trial’s own game that game is set first', async () => {
    show(changed);
    await userEvent.click(screen.getByRole('button', { name: 'Repeat' }));
    await userEvent.click(screen.getByRole('button', { name: 'With the game of trial 3' }));
    await waitFor(() => expect(steps()).toEqual(['PATCH setups/s', 'POST setups/s/trials']));
    expect(asked[0]?.body).toEqual({ game: take.game });
  });
});
