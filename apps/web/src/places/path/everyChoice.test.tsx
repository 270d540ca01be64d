import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Provider } from 'react-redux';
import { MemoryRouter } from 'react-router';
import type { ReactNode } from 'react';
import { changedSettings, encoderFacts, settingFacts, withEncoder, type SettingKey } from '@mellow/core';
import { containers, encoders, recipeSchema, type PathPlaceName, type Recipe } from '@mellow/model';
import { createStore } from '../../store/store';
import { allSettingsToggled } from '../../store/uiSlice';
import { CaptureSettings } from './CaptureSettings';
import { DriveSettings } from './DriveSettings';
import { EncodeSettings } from './EncodeSettings';
import { PackSettings } from './PackSettings';
import { PathContext, type PathState } from './pathContext';
import { testPath, testRecipe, testSetup } from './pathTest.test-support';
import { SizeSettings } from './SizeSettings';

/** Every choice that a station's sheet offers is walked: what comes of it can be stored, and moves nothing of another station. */
interface Chosen {
  group: string;
  choice: string;
  recipe: Recipe;
}

function show(path: PathState, content: ReactNode): void {
  const store = createStore();
  store.dispatch(allSettingsToggled());
  render(
    <Provider store={store}>
      <MemoryRouter>
        <PathContext value={path}>{content}</PathContext>
      </MemoryRouter>
    </Provider>,
  );
}

/** Chooses each radio that can be chosen and is not yet; the state stays as it was, so each stands for itself. */
async function walk(recipe: Recipe, content: ReactNode): Promise<Chosen[]> {
  const path = testPath({ draft: recipe, start: recipe });
  show(path, content);
  const chosen: Chosen[] = [];
  for (const group of screen.getAllByRole('radiogroup'))
    for (const radio of within(group).queryAllByRole<HTMLInputElement>('radio')) {
      if (radio.disabled || radio.checked || radio.getAttribute('aria-checked') === 'true') continue;
      const before = path.applied.length;
      await userEvent.click(radio);
      const applied = path.applied[before];
      const choice = radio.getAttribute('aria-label') ?? '';
      if (!applied) throw new Error(`${choice} of ${group.getAttribute('aria-label') ?? ''} did nothing`);
      chosen.push({ group: group.getAttribute('aria-label') ?? '', choice, recipe: applied });
    }
  return chosen;
}

const movedBy = (before: Recipe, { recipe }: Chosen): SettingKey[] => changedSettings(before, recipe);
const stationsOf = (keys: readonly SettingKey[]): PathPlaceName[] => [
  ...new Set(keys.map((key) => settingFacts[key].station)),
];

describe('Encode, every encoder that works here', () => {
  const working = encoders.filter((name) => !name.includes('processor-graphics'));
  it.each(working)(
    '%s: each choice is stored, keeps within what the encoder can, and moves its own station',
    async (name) => {
      const recipe = withEncoder({ ...testRecipe, container: 'matroska' }, name);
      const chosen = await walk(recipe, <EncodeSettings />);
      expect(chosen.length).toBeGreaterThan(5);
      for (const one of chosen) {
        expect(recipeSchema.parse(one.recipe)).toEqual(one.recipe);
        const moved = movedBy(recipe, one);
        // What has no effect with this encoder is kept for another one, and is no difference.
        const withoutEffect = recipe !== one.recipe && moved.length === 0;
        expect(withoutEffect).toBe(false);
        // Another encoder may need another file type.
        const stations = stationsOf(moved).filter((station) => station !== 'encode');
        expect(['', 'pack']).toContain(stations.join());
        const facts = encoderFacts[one.recipe.encode.encoder];
        expect(facts.rateControls).toContain(one.recipe.encode.rateControl);
        expect(facts.pixels).toContain(one.recipe.encode.pixels);
      }
      // No two choices of a group come to the same.
      for (const group of new Set(chosen.map((one) => one.group))) {
        const words = chosen.filter((one) => one.group === group).map((one) => JSON.stringify(one.recipe));
        if (group !== 'Encoder' && group !== 'Standard') expect(new Set(words).size).toBe(words.length);
      }
    },
  );
  it('says of what cannot be chosen why', () => {
    show(testPath({ draft: withEncoder(testRecipe, 'utvideo-software') }), <EncodeSettings />);
    for (const radio of screen.getAllByRole<HTMLInputElement>('radio').filter(({ disabled }) => disabled))
      expect(radio.closest('label')?.title.length).toBeGreaterThan(3);
  });
});

describe('the other stations', () => {
  const sheets: [PathPlaceName, ReactNode, number][] = [
    ['size', <SizeSettings key="s" />, 6],
    ['pack', <PackSettings key="p" />, 3],
    ['drive', <DriveSettings key="d" />, 8],
  ];
  it.each(sheets)('%s: each choice is stored and moves nothing of another', async (station, sheet, least) => {
    const chosen = await walk(testRecipe, sheet);
    expect(chosen.length).toBeGreaterThanOrEqual(least);
    for (const one of chosen) {
      expect(recipeSchema.parse(one.recipe)).toEqual(one.recipe);
      expect({ ...one, stations: stationsOf(movedBy(testRecipe, one)) }).toMatchObject({ stations: [station] });
    }
  });
  it('capture: a rate keeps the seconds between key pictures, and moves no more than that', async () => {
    const chosen = await walk(testRecipe, <CaptureSettings />);
    const rates = chosen.filter(({ group }) => /rate/i.test(group));
    expect(rates.length).toBeGreaterThan(5);
    const seconds = (recipe: Recipe) => (recipe.encode.keyDistanceFrames * recipe.rate.den) / recipe.rate.num;
    for (const one of rates) {
      expect(recipeSchema.parse(one.recipe)).toEqual(one.recipe);
      expect(movedBy(testRecipe, one).filter((key) => key !== 'rate' && key !== 'keyDistance')).toEqual([]);
      expect(Math.abs(seconds(one.recipe) - seconds(testRecipe))).toBeLessThan(1 / 20);
    }
  });
  it.each(containers)('pack, from %s: an encoder that a file type does not take is not on offer', (container) => {
    for (const name of encoders) {
      const facts = encoderFacts[name];
      const { unmount } = render(
        <Provider store={createStore()}>
          <MemoryRouter>
            <PathContext
              value={testPath({ draft: { ...testRecipe, container, encode: { ...testRecipe.encode, encoder: name } } })}
            >
              <PackSettings />
            </PathContext>
          </MemoryRouter>
        </Provider>,
      );
      const group = within(screen.getByRole('radiogroup', { name: 'File type' }));
      const reachable = group
        .getAllByRole<HTMLInputElement>('radio')
        .filter(({ disabled }) => !disabled)
        .map(({ value }) => value);
      expect(reachable.toSorted()).toEqual(containers.filter((one) => facts.containers.includes(one)).toSorted());
      unmount();
    }
  });
});

describe('a typed number', () => {
  const cases: [string, ReactNode, string, string, (recipe: Recipe) => number][] = [
    ['Key pictures every', <EncodeSettings key="e" />, '77', '3000', (recipe) => recipe.encode.keyDistanceFrames],
    ['Threads, typed', <EncodeSettings key="t" />, '6', '65', (recipe) => recipe.encode.threads],
    ['Width', <SizeSettings key="w" />, '1000', '20', (recipe) => recipe.size.widthPx],
  ];
  it.each(cases)('%s is taken where it fits, and told where it does not', async (label, sheet, good, bad, of) => {
    const path = testPath({ draft: testRecipe, start: testSetup.start });
    show(path, sheet);
    const field = screen.getByRole('textbox', { name: label });
    await userEvent.clear(field);
    await userEvent.type(field, `${bad}{Enter}`);
    expect(path.applied).toEqual([]);
    expect(screen.getByRole('alert')).toHaveTextContent(bad);
    await userEvent.clear(field);
    await userEvent.type(field, `${good}{Enter}`);
    expect(of(path.applied[0] as Recipe)).toBe(Number(good));
  });
});
