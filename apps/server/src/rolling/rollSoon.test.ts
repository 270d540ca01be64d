import { idleState } from '@mellow/model';
import { createLiveHub } from '../program/liveHub';
import { createRollSoon } from './rollSoon';

function open(refusal: string | null = null) {
  const live = createLiveHub();
  const begun: unknown[] = [];
  const soon = createRollSoon({
    live,
    setups: {
      get: (id) => (id === 'gone' ? Promise.reject(new Error('There is no setup.')) : Promise.resolve({} as never)),
    },
    recorder: {
      startTrial: (...asked) => {
        begun.push(asked);
        if (refusal !== null) return Promise.reject(new Error(refusal));
        live.setTake('armed', null);
        return Promise.resolve({} as never);
      },
    },
    log: { add: () => {}, recent: () => [] } as never,
  });
  const seen: (number | null)[] = [];
  live.listen(({ rollsSoon }) => {
    const left = rollsSoon?.leftS ?? null;
    if (seen.at(-1) !== left) seen.push(left);
  });
  return { live, begun, soon, seen };
}

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

it('counts down where every page sees it, rolls once, and counts no further', async () => {
  const { live, begun, soon, seen } = open();
  await soon.begin('a', 3, 90);
  await jest.advanceTimersByTimeAsync(2900);
  expect(begun).toEqual([]);
  await jest.advanceTimersByTimeAsync(200);
  expect(begun).toEqual([['a', 90, 'full']]);
  expect(seen).toEqual([3, 2, 1, null]);
  await jest.advanceTimersByTimeAsync(20_000);
  expect(begun).toHaveLength(1);
  expect(live.state().notice).toBeNull();
});

it('is let be: by a wish, by the end, by another take, by another countdown', async () => {
  for (const how of ['letBe', 'close'] as const) {
    const { begun, soon, live } = open();
    await soon.begin('a', 3, null);
    soon[how]();
    await jest.advanceTimersByTimeAsync(20_000);
    expect([begun, live.state().rollsSoon]).toEqual([[], null]);
  }
  const other = open();
  await other.soon.begin('a', 3, null);
  other.live.setTake('armed', null);
  expect(other.live.state().rollsSoon).toBeNull();
  await jest.advanceTimersByTimeAsync(20_000);
  expect(other.begun).toEqual([]);
  await expect(other.soon.begin('a', 3, null)).rejects.toThrow(/being made/);
  const again = open();
  await again.soon.begin('a', 3, null);
  await again.soon.begin('b', 5, null);
  await jest.advanceTimersByTimeAsync(20_000);
  expect(again.begun).toEqual([['b', null, 'full']]);
});

it('says why nothing rolls, and counts for no setup that is not there', async () => {
  const { live, soon, begun } = open('the drive is full.');
  await expect(soon.begin('gone', 3, null)).rejects.toThrow(/no setup/);
  expect(live.state().rollsSoon).toEqual(idleState.rollsSoon);
  await soon.begin('a', 1, null);
  await jest.advanceTimersByTimeAsync(1000);
  expect(begun).toHaveLength(1);
  expect(live.state().notice).toMatchObject({ tone: 'loss', title: 'Nothing rolls', text: 'The drive is full.' });
});
