import { baseRecipe } from '../recipe/anyRecipe.test-support';
import { heldBytesFor, hindsightLimitBytes, hindsightWords } from './index';

it('three minutes at 20 Mb/s with a key picture each second are 452.5 MB', () => {
  const recipe = { ...baseRecipe, rate: { num: 60, den: 1 }, encode: { ...baseRecipe.encode, keyDistanceFrames: 60 } };
  expect(heldBytesFor({ lengthS: 180 }, recipe, 20e6)).toBeCloseTo(452.5e6, 0);
});
it('never holds more than a quarter of the memory, and a little where that is next to nothing', () => {
  expect(hindsightLimitBytes(16e9)).toBe(4e9);
  expect(hindsightLimitBytes(1e6)).toBe(64e6);
});
it('says lengths as people do', () =>
  expect([20, 60, 90, 180, 1800].map(hindsightWords)).toEqual(['20 s', '1 min', '1:30 min', '3 min', '30 min']));
