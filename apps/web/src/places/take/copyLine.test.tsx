import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import type { Take, TakeFile } from '@mellow/model';
import { createStore } from '../../store/store';
import { testRecipe } from '../path/pathTest.test-support';
import { Discards } from '../takes/Discards';
import { CopyLine } from './CopyLine';
import { Rewrap } from './Rewrap';

const file = (role: TakeFile['role'], name: string): TakeFile => ({
  ...{ role, path: `/srv/Game/${name}`, identity: null, bytes: 2.5e9 },
});
const taken = (files: TakeFile[], change: Partial<Take> = {}): Take =>
  ({
    ...{ id: 't', state: 'closed', recipe: testRecipe, files, facts: {}, discarded: null },
    filePath: files.find(({ role }) => role === 'take')?.path ?? '',
    ...change,
  }) as unknown as Take;
const discarded = taken([file('discard', 'take 4.mkv'), file('take', 'take 4.mp4')], {
  discarded: { at: '2026-11-21T10:00:00.000Z', stripes: null },
});

const asked: string[] = [];
beforeEach(() => {
  asked.length = 0;
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const { url, method } = input as Request;
    const { pathname, search } = new URL(url);
    asked.push(`${method} ${pathname}${search}`);
    return new Response('{}', { status: 500 });
  });
});
afterEach(() => jest.restoreAllMocks());
const show = (shown: React.ReactNode) => render(<Provider store={createStore()}>{shown}</Provider>);

it('offers to keep only a copy that lies beside a whole take, and no other', async () => {
  const { unmount } = show(<CopyLine take={taken([file('take', 'take 4.mkv'), file('copy', 'take 4.mp4')])} />);
  expect(screen.getByText(/One MP4 lies beside the take/)).toBeInTheDocument();
  await userEvent.click(screen.getByRole('button', { name: 'Keep only the MP4' }));
  await waitFor(() => expect(asked).toEqual(['POST /api/takes/t/discard']));
  unmount();
  for (const take of [
    taken([file('take', 'take 4.mkv')]),
    taken([file('take', 'take 4.mkv'), file('copy', 'take 4.mp4')], { state: 'rescued' }),
  ]) {
    const { container, unmount: away } = show(<CopyLine take={take} />);
    expect(container).toBeEmptyDOMElement();
    away();
  }
});

it('of two MP4 the plain one is named so', () => {
  show(<CopyLine take={taken([file('take', 'take 4.mp4'), file('copy', 'take 4 plain.mp4')])} />);
  expect(screen.getByRole('button', { name: 'Keep only the plain MP4' })).toBeInTheDocument();
});

it('says what lies in the discards and until when, brings it back and empties it', async () => {
  show(<CopyLine take={discarded} />);
  expect(screen.getByText(/The MP4 is the take/).textContent).toMatch(
    /The file before it, 2\.50.GB, lies in the discards until 28 Nov\./,
  );
  await userEvent.click(screen.getByRole('button', { name: 'Bring it back' }));
  await userEvent.click(screen.getByRole('button', { name: 'Empty it now' }));
  await waitFor(() => expect(asked).toEqual(['POST /api/takes/t/bring-back', 'DELETE /api/discards?take=t']));
});

it('says what stays in the discards, and why', async () => {
  const left = [{ path: '/srv/Game/take 4.mkv', why: 'the drive is away' }];
  jest
    .spyOn(globalThis, 'fetch')
    .mockImplementation(async () => new Response(JSON.stringify({ removed: [], left }), { status: 200 }));
  show(<CopyLine take={discarded} />);
  await userEvent.click(screen.getByRole('button', { name: 'Empty it now' }));
  expect(await screen.findByRole('alert')).toHaveTextContent('/srv/Game/take 4.mkv stays: the drive is away.');
});

it('a take whose sound no MP4 holds is told so, instead of a button that fails', () => {
  const [lane] = testRecipe.lanes;
  const recipe = { ...testRecipe, container: 'matroska' as const, lanes: [{ ...lane!, codec: 'pcm' as const }] };
  show(<Rewrap take={taken([file('take', 'take 4.mkv')], { recipe })} />);
  expect(screen.getByText('No MP4: PCM sound')).toBeInTheDocument();
  expect(screen.queryByRole('button')).toBeNull();
});

it('nothing more is to be made of a take whose MP4 took its place', () => {
  const { container } = show(<Rewrap take={discarded} />);
  expect(container).toBeEmptyDOMElement();
});

it('the takes together tell of their discards, and of none where there are none', async () => {
  const { unmount } = show(<Discards takes={[discarded, discarded]} />);
  expect(screen.getByText(/Discards of 2 takes/).textContent).toMatch(/5\.00.GB: the first go on 28 Nov\./);
  await userEvent.click(screen.getByRole('button', { name: 'Empty them now' }));
  await waitFor(() => expect(asked).toEqual(['DELETE /api/discards']));
  unmount();
  const { container } = show(<Discards takes={[taken([file('take', 'take 4.mkv')])]} />);
  expect(container).toBeEmptyDOMElement();
});
