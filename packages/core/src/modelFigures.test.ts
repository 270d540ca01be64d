import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { briefSchema, concerns, type Concern, type LimitName, type Purpose } from '@mellow/model';
import { equalQuality } from './codec';
import { limitFacts } from './judge';
import { plainPracticeGame, startRecipe } from './recipe';

const text = readFileSync(join(__dirname, '../../../docs/model.md'), 'utf8');
const recipe = startRecipe({ purpose: 'long-play', sessionMinutes: 60 }, plainPracticeGame, 'd');
const others = (first: Concern): Concern[] => concerns.filter((concern) => concern !== first);
/** The limit where a concern stands at a place of the order, or for a purpose. */
function limit(name: LimitName, concern: Concern | null = null, place = 0, purpose: Purpose = 'long-play') {
  const matters = concern ? others(concern).toSpliced(place, 0, concern) : [...concerns];
  const brief = briefSchema.parse({ purpose, sessionMinutes: 60, matters });
  return limitFacts[name].follows({ brief, recipe, game: plainPracticeGame }).value;
}
const row = (name: string): string => text.split('\n').find((line) => line.startsWith(`| ${name}`)) ?? '';
const places = [0, 1, 2, 3];

describe('docs/model.md says what the code does', () => {
  it.each<[string, readonly (number | null)[], (value: number) => string]>([
    ['Lost frames', [limit('lost'), limit('lost', null, 0, 'light')], (v) => `${v * 100} %`],
    ['Longest hole', [limit('hole')], (v) => `${v} frames`],
    ['Repeats', [limit('repeats')], (v) => `${v * 100} %`],
    ['Picture', [limit('picture'), limit('picture', 'picture'), limit('picture', 'small-files')], String],
    ['Picture', [limit('picture', null, 0, 'master')], String],
    [
      'Worst second',
      [limit('worst-second'), limit('worst-second', 'picture'), limit('worst-second', 'small-files')],
      String,
    ],
    ['Small text', [limit('small-text'), limit('small-text', null, 0, 'lesson')], (v) => `${v} px`],
    ['Head-room', [limit('head-room')], (v) => `${v * 100} %`],
    ['Write speed', [limit('drive-rate')], (v) => `${v} times`],
  ])('of the limit %s', (name, values, words) => {
    expect(row(name)).not.toBe('');
    for (const value of values) expect(row(name)).toContain(words(value ?? NaN));
  });
  it.each<[string, LimitName, Concern, (value: number) => number]>([
    ['Play cost', 'play-cost', 'game', (v) => v * 100],
    ['1 % low', 'slowest', 'game', (v) => v * 100],
    ['If it dies', 'if-it-dies', 'safety', (v) => v],
  ])('of %s by the place of what matters', (name, limitName, concern, shown) => {
    const values = places.map((place) => Math.round(shown(limit(limitName, concern, place) ?? NaN)));
    expect(row(name)).toContain(values.join(', '));
  });
  it('of numbers that look the same', () =>
    expect(text).toContain(`AVC 20 is HEVC ${equalQuality(20, 'avc-software', 'hevc-software').toFixed(1)} or so`));
});
