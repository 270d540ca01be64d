import * as fc from 'fast-check';
import { pathPlaces } from '@mellow/model';
import { anyRecipe, baseRecipe } from './anyRecipe.test-support';
import { changedSettings, keepLocked, recipeDifferences, resetStation, settingFacts, settingKeys } from './index';

const anyKeys = fc.subarray([...settingKeys]);

describe('settings of a recipe', () => {
  it('each belong to a station and have words', () => {
    for (const key of settingKeys) {
      expect(pathPlaces).toContain(settingFacts[key].station);
      expect(settingFacts[key].words(baseRecipe)).not.toBe('');
      expect(settingFacts[key].name).not.toBe('');
    }
  });
  it('copied from a recipe to itself change nothing', () => {
    fc.assert(
      fc.property(anyRecipe, (recipe) =>
        settingKeys.every((key) => JSON.stringify(settingFacts[key].copy(recipe, recipe)) === JSON.stringify(recipe)),
      ),
    );
  });
  it('copied one by one move exactly what they name', () => {
    fc.assert(
      fc.property(anyRecipe, anyRecipe, fc.constantFrom(...settingKeys), (from, into, key) => {
        const moved = settingFacts[key].copy(from, into);
        expect(settingFacts[key].words(moved)).toBe(settingFacts[key].words(from));
        for (const other of changedSettings(into, moved))
          expect([key, ...(key === 'lanes' || key === 'sources' ? ['lanes', 'sources'] : [])]).toContain(other);
      }),
    );
  });
});

describe('a station put back to its start', () => {
  it('has the start’s values there, and all others stay', () => {
    fc.assert(
      fc.property(anyRecipe, anyRecipe, fc.constantFrom(...pathPlaces), (recipe, start, station) => {
        const reset = resetStation(recipe, start, station);
        for (const key of settingKeys) {
          const source = settingFacts[key].station === station ? start : recipe;
          expect(settingFacts[key].words(reset)).toBe(settingFacts[key].words(source));
        }
        expect(resetStation(reset, start, station)).toEqual(reset);
      }),
    );
  });
});

describe('locks', () => {
  it('put back what was locked and leave the rest changed', () => {
    fc.assert(
      fc.property(anyRecipe, anyRecipe, anyKeys, (before, after, locks) => {
        const kept = keepLocked(before, after, locks);
        const held = new Set(
          locks.flatMap((key) => (key === 'lanes' || key === 'sources' ? ['lanes', 'sources'] : [key])),
        );
        for (const key of settingKeys)
          expect(settingFacts[key].words(kept)).toBe(settingFacts[key].words(held.has(key) ? before : after));
      }),
    );
  });
  it('that name nothing known are ignored', () =>
    expect(keepLocked(baseRecipe, { ...baseRecipe, rewrap: true }, ['no-such-setting']).rewrap).toBe(true));
});

describe('differences in words', () => {
  it('are none between equal recipes, and name both values otherwise', () => {
    fc.assert(
      fc.property(anyRecipe, anyRecipe, (a, b) => {
        expect(recipeDifferences(a, a)).toEqual([]);
        for (const words of recipeDifferences(a, b)) expect(words).toMatch(/ to |another drive/);
      }),
    );
  });
  it('read as people say it (quality 20 to 18, effort light to middle)', () => {
    const from = { ...baseRecipe, encode: { ...baseRecipe.encode, effort: 'light' as const } };
    const to = { ...from, encode: { ...from.encode, quality: 18, effort: 'middle' as const } };
    expect(recipeDifferences(from, to)).toEqual(['effort light to middle', 'quality 20 to 18']);
  });
  it('leave out what has no effect: a bitrate beside a quality number', () => {
    expect(
      recipeDifferences(baseRecipe, { ...baseRecipe, encode: { ...baseRecipe.encode, bitrateKbps: 9000 } }),
    ).toEqual([]);
  });
});
