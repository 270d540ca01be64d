import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { forecastOf, ladderFor, wren } from '@mellow/core';
import { Ladder } from './Ladder';
import { showPath, testDrive, testPath, testRecipe, testSetup } from './pathTest.test-support';
import { contextOf } from '../../forecast/useForecastContext';

const heavy = {
  ...testRecipe,
  encode: { ...testRecipe.encode, encoder: 'avc-software' as const, effort: 'most-thorough' as const },
};
/** A weak machine that is asked for more than it has. */
function struggling() {
  const setup = { ...testSetup, draft: heavy };
  const context = contextOf(setup, [], { ...wren, id: 'this', origin: 'measured' }, [testDrive]);
  return testPath({ draft: heavy }, { context, forecast: forecastOf(heavy, context), machine: context.machine });
}

describe('the ladder', () => {
  it('is not there where every station has room', () => {
    const { container } = showPath(testPath(), <Ladder />);
    expect(container).toBeEmptyDOMElement();
  });
  it('names every rung in its order, with what it alone gains, and takes one with one press', async () => {
    const path = struggling();
    showPath(path, <Ladder />);
    expect(screen.queryByRole('list')).toBeNull();
    await userEvent.click(screen.getByText(/Everything that could be lowered/));
    const rungs = ladderFor(heavy, path.context, path.forecast);
    const items = within(await screen.findByRole('list')).getAllByRole('listitem');
    expect(items.map((item) => item.querySelector('b')?.textContent)).toEqual(rungs.map((rung) => rung.label));
    const effort = rungs.findIndex((rung) => rung.label.startsWith('Effort'));
    expect(items[effort]).toHaveTextContent(/Encode \d+ % to \d+ % of its budget/);
    const lanes = rungs.findIndex((rung) => rung.label === 'One sound lane');
    expect(items[lanes]).toHaveTextContent('no relief for Encode');
    await userEvent.click(within(items[effort]!).getByRole('button', { name: /Take the step: Effort/ }));
    expect(path.applied).toEqual([rungs[effort]!.recipe]);
  });
});
