import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { driveFactsOf } from '@mellow/core';
import type { DriveFacts, StoredDriveTest } from '@mellow/model';
import { createStore } from '../../store/store';
import { DriveTests, rankedDrives } from './DriveTests';
import { testDrive } from './pathTest.test-support';

const tested = (change: Partial<StoredDriveTest> = {}): StoredDriveTest => ({
  at: '2026-11-27T10:00:00Z',
  bytesPerSecond: 80e6,
  way: 'direct',
  steady: true,
  longestPauseMs: 212.4,
  seconds: 11,
  trace: [400e6, 300e6, 82e6, 80e6],
  ...change,
});
const drive = (change: Partial<DriveFacts>): DriveFacts => ({ ...driveFactsOf(testDrive), tests: [], ...change });

let asked: { method: string; path: string; body: unknown }[] = [];
beforeEach(() => {
  asked = [];
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    const text = await call.clone().text();
    asked.push({ method: call.method, path: new URL(call.url).pathname, body: text ? JSON.parse(text) : null });
    return new Response('{}', { status: 500 });
  });
});
afterEach(() => jest.restoreAllMocks());

const show = (...drives: DriveFacts[]) =>
  render(
    <Provider store={createStore()}>
      <DriveTests drives={drives} needBytesPerSecond={2e6} />
    </Provider>,
  );

it('ranks drives by what they keep up; those nobody tested come last', () => {
  const drives = [
    drive({ id: 'a', writeBytesPerSecond: null }),
    drive({ id: 'b', writeBytesPerSecond: 80e6 }),
    drive({ id: 'c', writeBytesPerSecond: 400e6 }),
  ];
  expect(rankedDrives(drives).map(({ id }) => id)).toEqual(['c', 'b', 'a']);
  expect(drives.map(({ id }) => id)).toEqual(['a', 'b', 'c']);
});

it('says what was found and how, with its course against the need, and what was found before', () => {
  show(
    drive({
      name: 'Barn',
      writeBytesPerSecond: 80e6,
      tests: [tested({ bytesPerSecond: 95e6 }), tested({ steady: false })],
    }),
  );
  expect(
    screen.getByText(/^80\.0.MB\/s, not steady after 11 s, past the cache; longest pause 212\.4.ms$/),
  ).toBeTruthy();
  expect(screen.getByText(/^before: 95\.0.MB\/s on 27 Nov$/)).toBeTruthy();
  const course = screen
    .getByRole('img')
    .getAttribute('aria-label')
    ?.replace(/\u2009|\u00a0/g, ' ');
  expect(course).toBe(
    'Course of the test: from 400 MB/s to 80.0 MB/s, slowest half second 80.0 MB/s; 2.00 MB/s are needed',
  );
});

it('takes a speed that is typed, and goes back to the test', async () => {
  show(drive({ id: 'barn', name: 'Barn', writeBytesPerSecond: 120e6, speedTyped: true, tests: [tested()] }));
  const field = screen.getByRole('textbox', { name: 'Speed of Barn' });
  await userEvent.clear(field);
  await userEvent.type(field, '95.5{Enter}');
  await userEvent.click(screen.getByRole('button', { name: 'back to the test' }));
  await waitFor(() => expect(asked.at(-1)?.body).toEqual({ writeBytesPerSecond: null }));
  expect(asked[0]).toEqual({ method: 'PATCH', path: '/api/drives/barn', body: { writeBytesPerSecond: 95.5e6 } });
});

it('tests all one after the other, and leaves those alone that are not there', async () => {
  show(
    drive({ id: 'a', name: 'A' }),
    drive({ id: 'b', name: 'B', problem: 'It is gone.' }),
    drive({ id: 'c', name: 'C' }),
  );
  await userEvent.click(screen.getByRole('button', { name: 'Test all, one after the other' }));
  await waitFor(() =>
    expect(asked.map(({ path }) => path)).toEqual(['/api/drives/a/measure', '/api/drives/c/measure']),
  );
});
