import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { driveFactsOf } from '@mellow/core';
import type { DriveFacts, MovedTakes } from '@mellow/model';
import { createStore } from '../../store/store';
import { MoveTakes } from './MoveTakes';
import { testDrive } from './pathTest.test-support';

const drive = (id: string, change: Partial<DriveFacts> = {}): DriveFacts => ({
  ...driveFactsOf(testDrive),
  ...{ id, name: id, takesBytes: 0 },
  ...change,
});

let asked: { path: string; body: unknown }[] = [];
function answer(result: MovedTakes | null): void {
  asked = [];
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    asked.push({ path: new URL(call.url).pathname, body: await call.json() });
    return result
      ? new Response(JSON.stringify(result), { headers: { 'Content-Type': 'application/json' } })
      : new Response(
          JSON.stringify({ type: 'drive-problem', title: 'Full', status: 409, detail: 'Nothing was moved.' }),
          {
            status: 409,
            headers: { 'Content-Type': 'application/problem+json' },
          },
        );
  });
}
afterEach(() => jest.restoreAllMocks());

const show = (...drives: DriveFacts[]) =>
  render(
    <Provider store={createStore()}>
      <MoveTakes drives={drives} />
    </Provider>,
  );

it('moves from a folder that has takes to another that can be used, and says what became of them', async () => {
  answer({ moved: 3, left: [{ path: '/srv/run.mkv', why: 'another file lies there by now' }] });
  show(
    drive('empty'),
    drive('footage', { takesBytes: 5e9 }),
    drive('gone', { takesBytes: 1e9, problem: 'It is not there.' }),
    drive('attic'),
  );
  await userEvent.click(screen.getByRole('button', { name: 'Move to: empty. Change it' }));
  // Neither where they lie nor what cannot be reached.
  expect(screen.getAllByRole('menuitem').map(({ textContent }) => textContent)).toEqual(['empty', 'attic']);
  await userEvent.click(screen.getByRole('menuitem', { name: 'attic' }));
  await userEvent.click(screen.getByRole('button', { name: 'Move them' }));
  await waitFor(() => expect(asked).toContainEqual({ path: '/api/drives/footage/move', body: { to: 'attic' } }));
  expect(await screen.findByRole('status')).toHaveTextContent(
    '3 files moved. 1 file stayed: /srv/run.mkv, another file lies there by now',
  );
});

it('says why nothing was moved', async () => {
  answer(null);
  show(drive('footage', { takesBytes: 5e9 }), drive('attic'));
  await userEvent.click(screen.getByRole('button', { name: 'Move them' }));
  expect(await screen.findByText('Nothing was moved.')).toBeInTheDocument();
});

it('is not there where there is nothing to move, or nowhere to', () => {
  const { container, unmount } = show(drive('footage'), drive('attic'));
  expect(container).toBeEmptyDOMElement();
  unmount();
  expect(show(drive('footage', { takesBytes: 5e9 })).container).toBeEmptyDOMElement();
});
