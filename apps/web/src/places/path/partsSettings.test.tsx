import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { driveFactsOf } from '@mellow/core';
import type { DriveFacts, Recipe } from '@mellow/model';
import { NextDrives, PartsSettings } from './PartsSettings';
import { showPath, testDrive, testPath, testRecipe } from './pathTest.test-support';

const drive = (id: string, change: Partial<DriveFacts> = {}): DriveFacts => ({
  ...driveFactsOf(testDrive),
  ...{ id, name: id },
  ...change,
});
const withDrives = (change: Partial<Recipe>, drives: DriveFacts[]) => {
  const path = testPath({ draft: { ...testRecipe, ...change } });
  return { ...path, context: { ...path.context, drives } };
};

it('a full take is one file, or cut by length or by size, each with its own figure', async () => {
  const path = testPath();
  const { unmount } = showPath(path, <PartsSettings />);
  expect(screen.getByRole('radio', { name: 'one file' })).toBeChecked();
  expect(screen.queryByRole('textbox')).toBeNull();
  await userEvent.click(screen.getByRole('radio', { name: 'by length' }));
  await userEvent.click(screen.getByRole('radio', { name: 'by size' }));
  expect(path.applied.map(({ parts }) => parts)).toEqual([
    { by: 'length', minutes: 30 },
    { by: 'size', megabytes: 4000 },
  ]);
  unmount();
  const sized = testPath({ draft: { ...testRecipe, parts: { by: 'size', megabytes: 4000 } } });
  showPath(sized, <PartsSettings />);
  const field = screen.getByRole('textbox', { name: 'Files of' });
  await userEvent.clear(field);
  await userEvent.type(field, '50{Enter}');
  expect(sized.applied).toEqual([]);
  await userEvent.clear(field);
  await userEvent.type(field, '2000{Enter}');
  expect(sized.applied.at(-1)?.parts).toEqual({ by: 'size', megabytes: 2000 });
});

it('drives that take over are put in order, moved by keys and taken out', async () => {
  const drives = [drive('footage'), drive('barn'), drive('attic', { problem: 'It is not there.' }), drive('cellar')];
  const path = withDrives({ nextDriveIds: ['attic', 'barn'] }, drives);
  showPath(path, <NextDrives />);
  expect(screen.getAllByRole('listitem').map(({ textContent }) => textContent)).toEqual([
    '1. attic It is not there.',
    '2. barn',
  ]);
  // The take's own drive is no other.
  expect(screen.queryByRole('button', { name: 'Go on in footage' })).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'Go on in cellar' }));
  screen.getByRole('button', { name: /^2: barn/ }).focus();
  await userEvent.keyboard('{ArrowLeft}');
  await userEvent.keyboard('{ArrowRight}');
  await userEvent.keyboard('{Delete}');
  await userEvent.click(screen.getByRole('button', { name: 'Take out attic' }));
  expect(path.applied.map(({ nextDriveIds }) => nextDriveIds)).toEqual([
    ['attic', 'barn', 'cellar'],
    ['barn', 'attic'],
    ['attic'],
    ['barn'],
  ]);
});

it('says what happens where nothing takes over, and where there is nothing else', () => {
  const { unmount } = showPath(withDrives({}, [drive('footage'), drive('barn')]), <NextDrives />);
  expect(screen.getByText('a take whose drive is full is closed and ends')).toBeInTheDocument();
  unmount();
  showPath(withDrives({}, [drive('footage')]), <NextDrives />);
  expect(screen.getByText('There is no other folder; add one above.')).toBeInTheDocument();
});
