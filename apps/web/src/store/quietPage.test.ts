import { idleState, type LiveState } from '@mellow/model';
import { createLooks, mayWait } from './quietPage';
import { testLiveTake } from '../places/roll/liveTake.test-support';

const rolling = (change: Partial<LiveState> = {}, take: Partial<NonNullable<LiveState['take']>> = {}): LiveState => ({
  ...idleState,
  recorder: 'rolling',
  take: { ...testLiveTake, ...take },
  ...change,
});

it('figures that move wait for a second, whether or not the clock of the file runs', () => {
  const before = rolling();
  expect(mayWait(before, rolling({ serial: 1 }, { elapsedUs: 5e6, due: 300 }), 200)).toBe(true);
  expect(mayWait(before, rolling({ serial: 1 }, { elapsedUs: 5e6 }), 1000)).toBe(false);
  const paused = rolling({}, { pausedS: 3 });
  expect(mayWait(paused, rolling({}, { pausedS: 3.2 }), 200)).toBe(true);
  expect(mayWait(paused, rolling({}, { pausedS: 4.1 }), 1050)).toBe(false);
});

it('what is more than a figure is drawn at once, and so is everything while nothing rolls', () => {
  const before = rolling();
  for (const now of [
    rolling({ dataVersion: 1 }),
    rolling({ notice: { id: 1, tone: 'note', title: 'a', text: 'b', takeId: null } }),
    rolling({ windowHidden: true }),
    rolling({}, { pausedS: 0 }),
    rolling({}, { parts: 2 }),
    rolling({}, { troubles: [{ who: 'camera', text: 'It is away.' }] }),
    rolling({}, { takeId: 'another' }),
    { ...before, recorder: 'closing' as const },
    idleState,
  ])
    expect(mayWait(before, now, 10)).toBe(false);
  expect(mayWait(null, before, 10)).toBe(false);
  expect(mayWait(idleState, idleState, 10)).toBe(false);
});

it('who moves the pointer or presses a key looks for some seconds', () => {
  let nowMs = 100_000;
  const page = new EventTarget();
  const looks = createLooks(page, () => nowMs);
  expect(looks.looking()).toBe(false);
  for (const event of ['pointermove', 'keydown', 'wheel']) {
    page.dispatchEvent(new Event(event));
    nowMs += 3900;
    expect([event, looks.looking()]).toEqual([event, true]);
    nowMs += 200;
    expect([event, looks.looking()]).toEqual([event, false]);
  }
});
