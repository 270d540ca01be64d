import type { Judged, LimitName } from '@mellow/model';
import { forecastOf, predictMisses } from '../forecast';
import { testContext } from '../forecast/testContext.test-support';
import { judgeAndMend } from './firstStep';

const context = testContext();
const recipe = context.start;
const forecast = forecastOf(recipe, context);
const predicted = { ...predictMisses(recipe, context, forecast, 5, 2), missesPerMinute: { value: 0, low: 0, high: 0 } };
const measured = (limit: LimitName, value: number, sentence: string): Judged => ({
  ...{ limit, name: limit, state: 'broken', grave: false, known: true, value, low: value, high: value },
  ...{ asked: '', found: String(value), sentence, answer: null },
});
const first = (...limits: Judged[]) =>
  judgeAndMend(recipe, { context, seed: 5, seeds: 2 }, forecast, predicted, limits).first;

describe('what a trial of the very recipe measured', () => {
  it('goes before the forecast, which sees nothing to change', () => {
    expect(first()).toBeNull();
    expect(first(measured('heard', 10, 'Voice is silent from beginning to end.'))).toMatchObject({
      id: 'heard',
      title: 'See whether every sound is heard, on Sound',
      recipe: null,
    });
  });
  it('sends to the trial where the forecast sees no cause, and blames neither game nor recipe', () => {
    const step = first(measured('lost', 0.1, 'Of 600 frames 60 were lost: 60 at Encode.'));
    expect(step).toMatchObject({ id: 'lost', title: 'Make the trial again', recipe: null, label: null });
    expect(step?.text).toContain('Of 600 frames 60 were lost');
    expect(step?.text).toContain('The forecast sees no cause of it in the recipe');
  });
  it('is held against the limits of today: what holds now needs nothing', () =>
    expect(first(measured('lost', 0.0004, 'Of 5 000 frames 2 were lost.'))).toBeNull());
});
