import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { plainKey, startBindings } from '@mellow/core';
import {
  idleState,
  type Hindsight,
  type KeySettings,
  type KeyState,
  type LiveState,
  type Setup,
  type Watching,
} from '@mellow/model';
import { liveArrived } from '../../store/liveSlice';
import { createStore } from '../../store/store';
import { testSetup } from '../path/pathTest.test-support';
import { HindsightPanel } from './HindsightPanel';
import { KeysPanel } from './KeysPanel';
import { StartLater } from './StartLater';

/** What the page asked of the server: nothing is answered, so what is shown stays. */
let asked: { method: string; path: string; body: unknown }[] = [];
beforeEach(() => {
  asked = [];
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    if (call.method !== 'GET')
      asked.push({
        method: call.method,
        path: new URL(call.url).pathname,
        body: (await call.clone().text()) ? await call.clone().json() : null,
      });
    return new Promise<Response>(() => {});
  });
});
afterEach(() => jest.restoreAllMocks());

describe('Hindsight', () => {
  function show(hindsight: Hindsight | null, watching: Watching | null = null, memoryBytes = 16e9) {
    const store = createStore();
    store.dispatch(liveArrived({ ...idleState, watching }));
    const setup: Setup = { ...testSetup, hindsight };
    render(
      <Provider store={store}>
        <HindsightPanel setup={setup} bitsPerSecond={20e6} memoryBytes={memoryBytes} driveName="Attic" />
      </Provider>,
    );
  }
  const held = (heldS: number, gaps = 0): Watching => ({
    setupId: testSetup.id,
    state: 'on',
    why: null,
    held: { lengthS: 180, heldS, bytes: 5e6, where: 'memory', gaps },
  });

  it('says what it costs before it is switched on, where it waits', async () => {
    show({ lengthS: 180, where: 'memory' });
    expect(screen.getByText(/^About 45\d MB of memory\. They are gone when the recorder dies\.$/)).toBeTruthy();
    await userEvent.click(screen.getByRole('radio', { name: 'on Attic' }));
    await waitFor(() => expect(asked[0]?.body).toEqual({ hindsight: { lengthS: 180, where: 'drive' } }));
  });
  it('says how much less is held where the memory is small', () => {
    show({ lengthS: 1800, where: 'memory' }, null, 8e9);
    // A quarter of 8 GB at 20 Mb/s.
    expect(screen.getByText(/about 13:20 min are held/)).toBeTruthy();
  });
  it('is off, and takes a length', async () => {
    show(null);
    expect(screen.getByText(/^Nothing is held\./)).toBeTruthy();
    expect(screen.queryByRole('button')).toBeNull();
    await userEvent.click(screen.getByRole('radio', { name: '1 min' }));
    await waitFor(() => expect(asked[0]?.body).toEqual({ hindsight: { lengthS: 60, where: 'memory' } }));
  });
  it('keeps by button and key what is held, and says what is missing', async () => {
    show({ lengthS: 180, where: 'memory' }, held(75, 2));
    expect(screen.getByText('1:15 min held, 5.00 MB. 2 pieces are missing: it could not keep up.')).toBeTruthy();
    await userEvent.keyboard('l');
    await waitFor(() => expect(asked).toEqual([{ method: 'POST', path: '/api/recorder/keep', body: {} }]));
  });
  it('lets nothing be kept before anything is held, and says why it does not hold', async () => {
    show(
      { lengthS: 180, where: 'memory' },
      { ...held(0), state: 'failed', why: 'No window is called so.', held: null },
    );
    expect(screen.getByText('It does not hold: No window is called so.')).toBeTruthy();
    expect(screen.getByRole('button', { name: /^Keep/ })).toHaveProperty('disabled', true);
    await userEvent.keyboard('l');
    expect(asked).toEqual([]);
  });
  it('says that another setup would be let go', () => {
    show({ lengthS: 180, where: 'memory' }, { ...held(9), setupId: 'other' });
    expect(screen.getByText('Another setup is held now; it would be let go.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Hold from now on' })).toBeTruthy();
  });
});

describe('Keys in the game', () => {
  const settings: KeySettings = { on: true, setupId: testSetup.id, common: startBindings, bySetup: {} };
  function show(change: Partial<KeySettings> = {}, part: Partial<KeyState> = {}, setup: Setup = testSetup) {
    const state: KeyState = { settings: { ...settings, ...change }, listening: true, why: null, ...part };
    render(
      <Provider store={createStore()}>
        <KeysPanel state={state} setup={setup} onClose={() => {}} />
      </Provider>,
    );
  }
  const field = (name: RegExp) => screen.getByRole('button', { name });
  const wanted = async () => {
    await waitFor(() => expect(asked).toHaveLength(1));
    return asked[0]?.body as KeySettings;
  };

  it('are set by pressing them, with modifiers, and left alone by Escape', async () => {
    show();
    await userEvent.click(field(/^Mark this moment: Insert/));
    fireEvent.keyDown(field(/^Mark this moment: press/), { key: 'Escape', code: 'Escape' });
    expect(field(/^Mark this moment: Insert/)).toBeTruthy();
    expect(asked).toEqual([]);
    await userEvent.click(field(/^Mark this moment: Insert/));
    fireEvent.keyDown(field(/^Mark this moment: press/), { key: 'Control', code: 'ControlLeft', ctrlKey: true });
    fireEvent.keyDown(field(/^Mark this moment: press/), { key: 'g', code: 'KeyG', ctrlKey: true, altKey: true });
    expect((await wanted()).common.mark).toEqual({ ...plainKey, code: 'KeyG', ctrl: true, alt: true });
  });
  it('are cleared and put back', async () => {
    show({ common: { ...startBindings, mark: { ...plainKey, code: 'F9' } } });
    await userEvent.click(screen.getByRole('button', { name: 'back to Insert' }));
    expect((await wanted()).common.mark).toEqual(startBindings.mark);
    asked = [];
    await userEvent.click(screen.getByRole('button', { name: 'Keep the last minutes: no key' }));
    expect((await wanted()).common.keep).toBeNull();
  });
  it('of one setup leave the common ones alone', async () => {
    show();
    await userEvent.click(screen.getByRole('radio', { name: new RegExp(`${testSetup.name} only`) }));
    await userEvent.click(field(/^Talk/));
    fireEvent.keyDown(field(/^Talk/), { key: 'F8', code: 'F8' });
    const { common, bySetup } = await wanted();
    expect(common).toEqual(startBindings);
    expect(bySetup).toEqual({ [testSetup.id]: { talk: { ...plainKey, code: 'F8' } } });
  });
  it('that the game uses are told, with a free one a press away', async () => {
    const game = { ...testSetup.game, facts: { ...testSetup.game.facts, keys: ['Insert', 'PageDown'] } };
    show({}, {}, { ...testSetup, game });
    const clash = screen.getByText('Insert marks here, and the game uses Insert.').closest('section, div')!;
    expect(clash).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Use Page Up' }));
    expect((await wanted()).common.mark).toEqual({ ...plainKey, code: 'PageUp' });
  });
  it('are heard only when somebody says so, for the setup where that was', async () => {
    show({ on: false, setupId: null }, { listening: false });
    expect(within(screen.getByRole('dialog')).getByRole('status').textContent).toBe('Nothing is heard now.');
    await userEvent.click(screen.getByRole('radio', { name: 'heard' }));
    expect(await wanted()).toMatchObject({ on: true, setupId: testSetup.id });
  });
  it('say why they are not heard, and which setup they roll', async () => {
    show({ setupId: 'other' }, { listening: false, why: 'There is no X11 display here.' });
    expect(screen.getByText('They cannot be heard: There is no X11 display here.')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: `Let it roll ${testSetup.name}` }));
    expect((await wanted()).setupId).toBe(testSetup.id);
  });
});

describe('Rolling later', () => {
  function show(setup: Setup = testSetup, disabled = false, rollsSoon: LiveState['rollsSoon'] = null) {
    const store = createStore();
    store.dispatch(liveArrived({ ...idleState, rollsSoon }));
    render(
      <Provider store={store}>
        <StartLater setup={setup} disabled={disabled} lengthS={90} />
      </Provider>,
    );
    return store;
  }

  it('asks the program to count, shows what it counts, and lets it be when it is asked to', async () => {
    const store = show();
    await userEvent.click(screen.getByRole('button', { name: 'Roll in 10 s' }));
    const path = `/api/setups/${testSetup.id}/roll-soon`;
    await waitFor(() => expect(asked).toEqual([{ method: 'POST', path, body: { inS: 10, lengthS: 90 } }]));
    act(
      () =>
        void store.dispatch(liveArrived({ ...idleState, serial: 1, rollsSoon: { setupId: testSetup.id, leftS: 6 } })),
    );
    expect(screen.getByRole('timer').textContent).toBe('Rolls in 6 s');
    await userEvent.click(screen.getByRole('button', { name: /let it be/ }));
    await waitFor(() => expect(asked[1]).toMatchObject({ method: 'DELETE', path: '/api/roll-soon' }));
  });
  it('says nothing of another setup’s countdown', () => {
    show(testSetup, false, { setupId: 'other', leftS: 6 });
    expect(screen.queryByRole('timer')).toBeNull();
  });
  it('begins nothing where it cannot roll', () => {
    show(testSetup, true);
    expect(screen.getByRole('button', { name: 'Roll in 10 s' })).toHaveProperty('disabled', true);
  });
  it('takes the name of a program, and is switched on and off', async () => {
    show();
    await userEvent.click(screen.getByRole('button', { name: /^Program of the game/ }));
    await userEvent.type(screen.getByRole('combobox'), ' Paper Comets.exe ');
    await userEvent.click(screen.getByRole('button', { name: 'Take it' }));
    await waitFor(() => expect(asked[0]?.body).toEqual({ withGame: { process: 'Paper Comets.exe', on: false } }));
  });
  it('says that it rolls with the game', async () => {
    show({ ...testSetup, withGame: { process: 'Paper Comets.exe', on: true } });
    expect(screen.getByText(/^Rolls with/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Not any more' }));
    await waitFor(() => expect(asked[0]?.body).toEqual({ withGame: { process: 'Paper Comets.exe', on: false } }));
  });
});
