import { render, screen } from '@testing-library/react';
import * as fc from 'fast-check';
import { idleState, practiceSource, type LiveState } from '@mellow/model';
import { testLiveTake } from '../roll/liveTake.test-support';
import { inTheFile } from './StatePanel';
import { StateView, stateWords } from './StateView';
import {
  stateCorners,
  stateShows,
  stateSizes,
  storedStateOptions,
  storeStateOptions,
  stateWindowPlace,
  stateWindowSize,
} from './stateOptions';

const take = testLiveTake;
const live: LiveState = { ...idleState, serial: 1, recorder: 'rolling', take };

it('says at a glance what rolls: the last whole second, and what was lost, repeats not counted', () => {
  expect(stateWords(live, true)).toEqual({
    shape: 'rolling',
    word: 'Rolling',
    clock: '0:42:18',
    rest: 'filed 60 fps, game 119; 14 lost',
  });
  const paused = { ...live, take: { ...take, pausedS: 75 } };
  expect(stateWords(paused, true)).toMatchObject({ shape: 'paused', word: 'Paused', rest: 'for 0:01:15' });
  expect(stateWords({ ...live, recorder: 'armed' }, true)).toMatchObject({ shape: 'armed', word: 'Armed' });
  expect(stateWords({ ...live, recorder: 'idle', take: null }, true)).toMatchObject({ shape: 'idle', word: 'Idle' });
  expect(stateWords(live, false)).toMatchObject({ shape: 'away', word: 'No answer' });
  expect(stateWords(null, true)).toMatchObject({ shape: 'away' });
  const held = { lengthS: 180, heldS: 181.5, bytes: 1, where: 'memory' as const, gaps: 0 };
  const watching = { setupId: 's', state: 'on' as const, why: null, held };
  expect(stateWords({ ...live, recorder: 'idle', take: null, watching }, true)).toMatchObject({
    shape: 'holding',
    clock: '3 min',
  });
  const soon = { ...live, recorder: 'idle' as const, take: null, watching, rollsSoon: { setupId: 's', leftS: 7 } };
  expect(stateWords(soon, true)).toEqual({ shape: 'armed', word: 'Rolls in', clock: '7 s', rest: null });
});

it('shows everything, the clock or only a shape, and nothing where a key has hidden it; a reader hears all of it', () => {
  const shown = (shows: (typeof stateShows)[number], change: Partial<LiveState> = {}) => {
    const { container, unmount } = render(<StateView live={{ ...live, ...change }} connected shows={shows} />);
    const label = screen.queryByRole('status')?.getAttribute('aria-label') ?? null;
    const text = container.textContent;
    unmount();
    return { text, label };
  };
  expect(shown('everything').text).toBe('Rolling 0:42:18filed 60 fps, game 119; 14 lost');
  expect(shown('the clock').text).toBe('Rolling 0:42:18');
  expect(shown('only a shape')).toEqual({ text: '', label: 'Rolling, 0:42:18, filed 60 fps, game 119; 14 lost' });
  expect(shown('everything', { windowHidden: true })).toEqual({ text: '', label: null });
});

it('lies whole on the screen in every corner and size', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...stateCorners),
      fc.constantFrom(...stateSizes),
      fc.constantFrom(...stateShows),
      fc.integer({ min: 800, max: 5120 }),
      fc.integer({ min: 600, max: 2880 }),
      (corner, size, shows, width, height) => {
        const options = { corner, size, shows, scheme: 'dark' as const };
        const own = stateWindowSize(options);
        const at = stateWindowPlace(options, { left: 100, top: 50, width, height });
        expect(at.left).toBeGreaterThanOrEqual(100);
        expect(at.top).toBeGreaterThanOrEqual(50);
        expect(at.left + own.width).toBeLessThanOrEqual(100 + width);
        expect(at.top + own.height).toBeLessThanOrEqual(50 + height);
        expect(at.left < 100 + width / 2 - own.width / 2).toBe(corner.endsWith('left'));
      },
    ),
  );
});

it('keeps how it looks, and begins anew where what was kept is broken', () => {
  const options = { shows: 'the clock', size: 'large', scheme: 'dark', corner: 'lower left' } as const;
  storeStateOptions(options);
  expect(storedStateOptions()).toEqual(options);
  localStorage.setItem('mellow-state-window', '{"shows":"nonsense"');
  expect(storedStateOptions()).toEqual({
    shows: 'everything',
    size: 'middle',
    scheme: 'as this page',
    corner: 'upper right',
  });
  localStorage.clear();
});

it('says whether it stands in the file, by what is recorded', () => {
  const place = { leftPx: 0, topPx: 0, widthPx: 640, heightPx: 360, pointer: true };
  expect(inTheFile(practiceSource)).toBe('It is never in the file.');
  expect(inTheFile({ kind: 'display', name: 'A', ...place })).toContain('it stands in the file');
  expect(inTheFile({ kind: 'region', ...place })).toContain('inside that part');
});
