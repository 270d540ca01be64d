import { stationNames, type Recipe } from '@mellow/model';
import { forecastOf, type Forecast, type ForecastContext } from '../forecast';
import { adviceFor, goodShare, nextStep, reliefFor } from './index';
import { situations } from './situations.test-support';

const plain = (text: string) => text.replaceAll(/[\u2009\u202f\u00a0]/g, ' ');
const firstLine = (recipe: Recipe, context: ForecastContext) => {
  const forecast = forecastOf(recipe, context);
  return nextStep(recipe, context, forecast, adviceFor(recipe, context, forecast));
};
/** Stations above their budget in the busiest 1 %, but the game, which is no station of the recorder's. */
const over = (forecast: Forecast): string[] =>
  stationNames.filter((name) => {
    const load = forecast.loads[name];
    return name !== 'game' && load !== null && load.busiest > load.budget;
  });

describe('the first line of advice', () => {
  it('is held against at least two dozen situations', () => {
    expect(situations.length).toBeGreaterThanOrEqual(24);
    expect(new Set(situations.map((s) => s.name)).size).toBe(situations.length);
  });
  it.each(situations.map((s) => [s.name, s] as const))('of %s', (_, { recipe, context, title, remedy }) => {
    const step = firstLine(recipe, context);
    if (!title) {
      expect(step).toBeNull();
      return;
    }
    expect(plain(step?.title ?? '')).toMatch(title);
    expect(plain(step?.remedy?.label ?? '')).toMatch(remedy ?? /./);
    const after = step?.remedy?.recipe;
    if (!after) {
      expect(step?.remedy?.instruction).toBeTruthy();
      return;
    }
    // Applying it helps: the line is gone or another one, and no station is above its budget that was not so before.
    expect(plain(firstLine(after, context)?.title ?? '')).not.toBe(plain(step.title));
    const before = over(forecastOf(recipe, context));
    expect(over(forecastOf(after, context)).filter((name) => !before.includes(name))).toEqual([]);
  });
});

describe('the ladder', () => {
  const struggling = situations.filter((s) => reliefFor(s.recipe, s.context).length > 0);
  it('is there wherever a machine struggles, and each step gains something', () => {
    expect(struggling.length).toBeGreaterThanOrEqual(5);
    for (const { recipe, context } of struggling)
      for (const step of reliefFor(recipe, context)) {
        if (!step.after) continue;
        const share = (forecast: Forecast) =>
          Math.max(
            ...stationNames.map((name) => {
              const load = forecast.loads[name];
              return name === 'game' || !load ? 0 : load.busiest / load.budget;
            }),
          );
        expect(share(step.after)).toBeLessThan(share(step.before));
      }
  });
  it('ends where the forecast is good, or says what is left to lower in the game', () => {
    for (const { recipe, context } of struggling) {
      const steps = reliefFor(recipe, context);
      const last = steps.at(-1)!;
      const good = last.after !== null && over(last.after).length === 0;
      expect(good || last.instruction !== null).toBe(true);
      if (good)
        for (const name of stationNames) {
          const load = last.after!.loads[name];
          if (load && name !== 'game') expect(load.busiest).toBeLessThanOrEqual(load.budget * goodShare + 1e-9);
        }
    }
  });
  it('offers what costs the picture nothing before size or rate', () => {
    for (const { recipe, context } of struggling) {
      const labels = reliefFor(recipe, context).map((step) => step.label);
      const free = labels.findIndex((label) => /^Use |lossless codec|sound lane/.test(label));
      const seen = labels.findIndex((label) => /^File |^Quality /.test(label));
      if (free >= 0 && seen >= 0) expect(free).toBeLessThan(seen);
    }
  });
});
