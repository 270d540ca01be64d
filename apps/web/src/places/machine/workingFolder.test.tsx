import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import type { WorkingPlace } from '@mellow/model';
import { createStore } from '../../store/store';
import { testDrive } from '../path/pathTest.test-support';
import { WorkingFolder } from './WorkingFolder';

const drives = [
  testDrive,
  { ...testDrive, id: 'scratch', name: 'Scratch', folder: '/mnt/scratch' },
  { ...testDrive, id: 'demo', name: 'Demo' },
];

/** Answers as the server does; what changed is kept. */
function shown(working: WorkingPlace, refusal: object | null = null) {
  const asked: { method: string; path: string; body: unknown }[] = [];
  let now = working;
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    const text = call.method === 'GET' ? '' : await call.clone().text();
    const body: unknown = text ? JSON.parse(text) : null;
    if (call.method !== 'GET') asked.push({ method: call.method, path: new URL(call.url).pathname, body });
    const refused = refusal !== null && call.method === 'PUT';
    if (!refused && call.method === 'PUT') now = { ...now, driveId: (body as { driveId: string | null }).driveId };
    if (call.method === 'DELETE') now = { ...now, copies: 0, copiesBytes: 0 };
    return new Response(JSON.stringify(refused ? refusal : now), {
      status: refused ? 409 : 200,
      headers: { 'Content-Type': 'application/json' },
    });
  });
  render(
    <Provider store={createStore()}>
      <WorkingFolder drives={drives} />
    </Provider>,
  );
  return asked;
}
afterEach(() => jest.restoreAllMocks());
const nothing: WorkingPlace = { driveId: null, copies: 0, copiesBytes: 0, problem: null };
const word = (name: string) => screen.findByRole('button', { name: `Working folder: ${name}. Change it` });

it('says where things lie, and is another folder by two presses and back', async () => {
  const asked = shown(nothing);
  await userEvent.click(await word('none of its own'));
  expect(screen.getAllByRole('menuitem').map(({ textContent }) => textContent)).toEqual([
    'none of its own',
    'Footage',
    'Scratch',
    'another folder …',
  ]);
  await userEvent.click(screen.getByRole('menuitem', { name: 'Scratch' }));
  expect(await screen.findByText(/copies for playing lie in \/mnt\/scratch\.$/)).toBeInTheDocument();
  await userEvent.click(await word('Scratch'));
  await userEvent.click(screen.getByRole('menuitem', { name: 'none of its own' }));
  await word('none of its own');
  expect(asked.map(({ body }) => body)).toEqual([{ driveId: 'scratch' }, { driveId: null }]);
});

it('tells what the copies take, and removes them', async () => {
  const asked = shown({ ...nothing, copies: 3, copiesBytes: 4.2e9 });
  expect(await screen.findByText(/^3 copies for playing, 4\.20? GB; each is made anew/)).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Remove them' }));
  expect(await screen.findByText(/^No copies for playing/)).toBeInTheDocument();
  expect(asked).toEqual([{ method: 'DELETE', path: '/api/working/copies', body: null }]);
});

it('says when it is away, and why it was not changed', async () => {
  const why = 'Something rolls or is held now.';
  shown(
    { ...nothing, driveId: 'scratch', problem: 'The working folder cannot be used: /mnt/scratch is not there.' },
    { type: '/problems/recorder-busy', title: 'The recorder is at work', status: 409, detail: why },
  );
  expect(await screen.findByText(/\/mnt\/scratch is not there/)).toBeInTheDocument();
  await userEvent.click(await word('Scratch'));
  await userEvent.click(screen.getByRole('menuitem', { name: 'Footage' }));
  await waitFor(() => expect(screen.getByText(why)).toBeInTheDocument());
  await word('Scratch');
});
