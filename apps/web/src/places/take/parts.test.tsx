import { render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import type { Take, TakeFile } from '@mellow/model';
import { createStore } from '../../store/store';
import { testRecipe } from '../path/pathTest.test-support';
import { Parts } from './Parts';

const file = (path: string, change: Partial<TakeFile> = {}): TakeFile => ({
  ...{ role: 'take', path, identity: null, bytes: 2.5e9 },
  ...change,
});
const taken = (files: TakeFile[]) =>
  ({ id: 't', recipe: testRecipe, files, facts: { picture: { endUs: 1500e6 } } }) as unknown as Take;
const parts = [
  file('/srv/Game/take 4.mkv'),
  file('/mnt/large/Game/take 4 part 2.mkv', { startUs: 600e6, bytes: null }),
  file('/srv/Game/take 4 part 3.mkv', { startUs: 1200e6 }),
];

const asked: { path: string; body: unknown }[] = [];
beforeEach(() => {
  asked.length = 0;
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    asked.push({ path: new URL(call.url).pathname, body: await call.json() });
    return new Response('{}', { status: 500 });
  });
});
afterEach(() => jest.restoreAllMocks());

const show = (take: Take, onJump: (seconds: number) => void = () => {}) =>
  render(
    <Provider store={createStore()}>
      <Parts take={take} onJump={onJump} />
    </Provider>,
  );

it('lists parts with where they begin, how long and large they are and where they lie', async () => {
  const jumps: number[] = [];
  show(taken(parts), (seconds) => jumps.push(seconds));
  const rows = screen.getAllByRole('row').slice(1);
  const cells = rows.map((row) =>
    within(row)
      .getAllByRole('cell')
      .slice(0, 5)
      .map((cell) => cell.textContent),
  );
  expect(cells.map((row) => row.map((text) => text?.replace(/\u2009|\u00a0/g, ' ')))).toEqual([
    ['1', '0:00:00', '0:10:00', '2.50 GB', '/srv/Game'],
    ['2', '0:10:00', '0:10:00', '?', '/mnt/large/Game'],
    ['3', '0:20:00', '0:05:00', '2.50 GB', '/srv/Game'],
  ]);
  await userEvent.click(screen.getByRole('button', { name: '0:20:00' }));
  expect(jumps).toEqual([1200]);
  expect(screen.getByRole('link', { name: 'Save part 2' })).toHaveAttribute('href', '/api/takes/t/file?part=2');
});

it('joins them to one file of either kind, and offers neither twice', async () => {
  const { unmount } = show(taken(parts));
  await userEvent.click(screen.getByRole('button', { name: 'Join to one Matroska' }));
  await waitFor(() => expect(asked).toEqual([{ path: '/api/takes/t/rewrap', body: { into: 'mkv' } }]));
  unmount();
  show(taken([...parts, file('/srv/Game/take 4 whole.mkv', { role: 'copy' })]));
  expect(screen.queryByRole('button', { name: 'Join to one Matroska' })).toBeNull();
  expect(screen.getByRole('button', { name: 'Join to one MP4' })).toBeInTheDocument();
});

it('says what no MP4 holds instead of offering one, of parts as of stripes', () => {
  const whole = taken(parts);
  const [lane] = testRecipe.lanes;
  const recipe = { ...testRecipe, container: 'matroska' as const, lanes: [{ ...lane!, codec: 'pcm' as const }] };
  const stripes = { blockBytes: 1 << 20, pattern: [0, 1], places: [] } as unknown as NonNullable<Take['stripes']>;
  for (const take of [
    { ...whole, recipe },
    { ...whole, recipe, stripes },
  ]) {
    const { unmount } = show(take);
    expect(screen.getByText('No MP4: PCM sound')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /one MP4/ })).toBeNull();
    expect(screen.getByRole('button', { name: /^(Join to one Matroska|Build one file)$/ })).toBeInTheDocument();
    unmount();
  }
});

it('is not there for a take in one file', () => {
  const { container } = show(taken(parts.slice(0, 1)));
  expect(container).toBeEmptyDOMElement();
});
