import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import { kestrel, wren } from '@mellow/core';
import type { MachineSheet, Setup } from '@mellow/model';
import { api } from '../../store/api';
import { createStore } from '../../store/store';
import { testDrive, testMachine, testSetup } from '../path/pathTest.test-support';
import { SetupRows } from '../setups/SetupRows';
import { DemoCard } from './DemoCard';
import { FirstRun } from './FirstRun';

/** A page whose store already has what the server would answer. */
async function show(content: React.ReactNode, machines: MachineSheet[]) {
  const store = createStore();
  await store.dispatch(api.util.upsertQueryData('machines', undefined, machines));
  await store.dispatch(api.util.upsertQueryData('drives', undefined, [testDrive]));
  await store.dispatch(api.util.upsertQueryData('setups', undefined, [testSetup]));
  return render(
    <Provider store={store}>
      <MemoryRouter>{content}</MemoryRouter>
    </Provider>,
  );
}
const demo = { present: true, madeOn: 'two cores', setups: 2, takes: 5 };
const none = { present: false, madeOn: null, setups: 0, takes: 0 };

describe('a first run', () => {
  it('has three things to do, and measuring this PC is the first', async () => {
    await show(<FirstRun setups={[]} takes={[]} drives={[testDrive]} demo={none} today="today" />, [
      { ...testMachine, encoders: [], provenAt: null },
      kestrel,
    ]);
    expect(screen.getByRole('heading', { level: 1 })).toHaveTextContent('Three things, about two minutes');
    expect(screen.getByRole('button', { name: 'Try them, half a minute' })).toBeEnabled();
    expect(screen.getByText('Measure this PC')).toBeInTheDocument();
  });
  it('has two once this PC was measured, and names what works', async () => {
    await show(<FirstRun setups={[]} takes={[]} drives={[testDrive]} demo={none} today="today" />, [
      { ...testMachine, provenAt: '2026-11-25' },
    ]);
    expect(screen.getByRole('heading', { level: 1 })).toHaveTextContent('Two things, about a minute');
    expect(screen.getByText(/^AVC in software, HEVC in software and \d more$/)).toBeInTheDocument();
  });
});

describe('the demo', () => {
  it('tells which of its setups are simulated, and asks before trials of one’s own go with it', async () => {
    const setups: Setup[] = [
      { ...testSetup, demo: true },
      { ...testSetup, id: 'w', name: 'Wren', demo: true, machineId: 'wren' },
    ];
    const own = {
      id: 't',
      setupId: 's',
      demo: false,
      recipe: testSetup.draft,
      machine: testMachine,
      createdAt: '',
    } as never;
    await show(<DemoCard demo={demo} setups={setups} takes={[own]} />, [testMachine, wren]);
    expect(screen.getAllByText('simulated')).toHaveLength(1);
    await userEvent.click(screen.getByRole('button', { name: 'Remove the demo' }));
    expect(screen.getByRole('dialog')).toHaveTextContent('Remove the demo with 1 trial of yours?');
    await userEvent.click(screen.getByRole('button', { name: 'Leave it' }));
  });
});

describe('rows of setups', () => {
  it('show the forecast’s size before any trial, and whose machine is simulated', async () => {
    await show(
      <SetupRows
        setups={[testSetup, { ...testSetup, id: 'k', name: 'Elsewhere', machineId: 'kestrel' }]}
        takes={[]}
        main={null}
      />,
      [testMachine, kestrel],
    );
    expect(screen.getAllByText(/^[GM]B\/h$/)).toHaveLength(2);
    expect(screen.getByText('Kestrel', { exact: false })).toHaveTextContent('Paper Comets on Kestrel simulated');
    expect(screen.getByText('Paper Comets on this PC')).toBeInTheDocument();
  });
});
