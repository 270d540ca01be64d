import type { Recipe } from '@mellow/model';
import { settingFacts, settingKeys } from './settings';

/** What differs from one recipe to the next, in words, along the path: "quality 20 to 18". */
export function recipeDifferences(from: Recipe, to: Recipe): string[] {
  return settingKeys.flatMap((key) => {
    const facts = settingFacts[key];
    const [a, b] = [facts.words(from), facts.words(to)];
    if (a === b || (facts.counts && !facts.counts(to))) return [];
    return [key === 'drive' ? 'another drive' : `${facts.name} ${a} to ${b}`];
  });
}

export const sameRecipe = (a: Recipe, b: Recipe): boolean =>
  recipeDifferences(a, b).length === 0 && JSON.stringify(a.encode) === JSON.stringify(b.encode);
