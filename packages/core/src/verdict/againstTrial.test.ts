import type { Take } from '@mellow/model';
import { concatColumns } from '../ledger';
import { againstTrial } from './index';
import { testTake } from './testTake.test-support';

/** Figures of a take are changed where the ledger's are not what is looked at. */
function made(change: Partial<Take>, { lost = 0, due = 600, fresh = 60, encodeMs = 4 } = {}): Take {
  const take = testTake(concatColumns([]), change);
  const { summary, facts } = take;
  if (!summary || !facts) throw new Error('a take without figures');
  return {
    ...take,
    summary: {
      ...summary,
      due,
      filed: due - lost,
      pacing: { ...summary.pacing, newPerSecond: fresh },
      loads: { ...summary.loads, encode: { usualMs: encodeMs, busiestMs: encodeMs, budgetMs: 16.7 } },
    },
  };
}
const trial = (change: Partial<Take> = {}, figures = {}) =>
  made({ id: 'trial', number: 3, createdAt: '2026-11-25T10:00:00Z', ...change }, figures);
const full = (change: Partial<Take> = {}, figures = {}) =>
  made({ id: 'full', kind: 'full', number: 4, createdAt: '2026-11-25T11:00:00Z', ...change }, figures);

it('says that it went as the trial where nothing is apart', () => {
  expect(againstTrial(full(), [trial()])?.sentence).toBe('It went as trial 3 did, with the same recipe.');
});

it('names what is apart, in the units that count, whatever the lengths of the two', () => {
  // 600 frames are 10 s, 36 000 are ten minutes: 30 lost in them are 3 a minute; as many bytes are a sixtieth an hour.
  const against = againstTrial(full({}, { due: 36_000, lost: 30, fresh: 52, encodeMs: 9 }), [trial()]);
  expect(against?.sentence.replaceAll('\u2009', ' ')).toBe(
    'Against trial 3, with the same recipe: 3.0 lost a minute where it lost none, 18.0 MB/h where it had 1.08 GB/h, 52.0 new pictures a second where it had 60.0 and Encode’s busiest 1 % at 9.0 ms where it was 4.0 ms.',
  );
});

it('says what was changed since the trial', () => {
  const take = full();
  const other = { ...take.recipe, encode: { ...take.recipe.encode, quality: take.recipe.encode.quality - 4 } };
  expect(againstTrial({ ...take, recipe: other }, [trial()])?.sentence).toMatch(
    /^It went as trial 3 did, with one change \(quality/,
  );
});

it('looks at the last trial before it on the same kind of machine, and at nothing else', () => {
  const simulated = { ...trial().machine, origin: 'simulated' as const };
  const takes = [
    trial({ id: 'later', createdAt: '2026-11-25T12:00:00Z' }),
    trial({ id: 'elsewhere', machine: simulated }),
    trial({ id: 'sample', kind: 'sample' }),
    trial({ id: 'foreign', setupId: 'other' }),
    { ...trial({ id: 'broken' }), summary: null },
    trial({ id: 'right' }),
    trial({ id: 'older' }),
  ];
  expect(againstTrial(full(), takes)?.trial.id).toBe('right');
  expect(againstTrial(full(), takes.slice(0, 5))).toBeNull();
  expect(againstTrial({ ...full(), summary: null }, takes)).toBeNull();
});
