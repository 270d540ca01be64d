import { stationNames } from '@mellow/model';
import { forecastOf, pathParametersOf, steadyOverloads, type Forecast } from './index';
import { lossesOf } from './predict';
import { simulatePath } from '../path';
import { testContext } from './testContext.test-support';

const context = testContext();
const recipe = {
  ...context.start,
  size: { ...context.start.size, widthPx: 1280, heightPx: 720 },
  encode: { ...context.start.encode, encoder: 'avc-software' as const },
};
const calm = forecastOf(recipe, context);
const period = 1e6 / 60;
const figure = (value: number) => ({ value, low: value, high: value, origin: 'assumed' as const, from: '' });
const withWork = (part: Partial<Forecast['work']>): Forecast => ({ ...calm, work: { ...calm.work, ...part } });
const slowDrive = (share: number): Forecast => ({
  ...calm,
  bits: { ...calm.bits, value: 8 * 26.3e6 },
  speed: { ...calm.speed!, availableBytesPerSecond: 26.3e6 / share },
});

describe('steady overload by arithmetic', () => {
  it('is none where every station keeps up in the mean', () => expect(steadyOverloads(recipe, calm)).toEqual([]));
  it.each([
    ['capture', (us: number) => withWork({ grabUs: figure(us) })],
    ['size', (us: number) => withWork({ size: figure(us) })],
    ['encode', (us: number) => withWork({ encode: figure(us), parallelism: 1 })],
    ['pack', (us: number) => withWork({ packUs: figure(us) })],
  ] as const)('%s: begins at the budget, and loses 1 - 1/share of the frames', (station, of) => {
    expect(steadyOverloads(recipe, of(period * 0.999))).toEqual([]);
    for (const share of [1.01, 1.25, 2, 10]) {
      const [found, ...others] = steadyOverloads(recipe, of(period * share));
      expect(others).toEqual([]);
      expect(found).toMatchObject({
        station,
        share: expect.closeTo(share, 9),
        lostShare: expect.closeTo(1 - 1 / share, 9),
      });
      expect(found!.untilFullS).toBeGreaterThan(0);
    }
  });
  it('the drive: 26.3 of 24.8 MB/s fill the 64 MB that may wait in 43 s, which passages of 10 s do not show', () => {
    const [found] = steadyOverloads(recipe, slowDrive(26.3 / 24.8));
    expect(found).toMatchObject({ station: 'drive', lostShare: expect.closeTo(1 - 24.8 / 26.3, 6) });
    expect(found!.untilFullS).toBeCloseTo(64 / (26.3 - 24.8), 6);
  });
  it('agrees with what the simulation loses, station by station', () => {
    for (const [station, forecast] of [
      ['size', withWork({ size: figure(period * 1.5) })],
      ['encode', withWork({ encode: figure(period * 1.5), parallelism: 1 })],
    ] as const) {
      const parameters = pathParametersOf(recipe, context, forecast, 5, [{ kind: 'calm', seconds: 60 }]);
      const steady = {
        ...parameters,
        cores: 64,
        othersCores: 0,
        scenes: parameters.scenes.map((scene) => ({ ...scene, encodeFactor: 1, gameFactor: 0.2 })),
      };
      const lost = lossesOf(simulatePath(steady).columns)[station] ?? 0;
      const expected = steadyOverloads(recipe, forecast)[0]!.lostShare;
      expect(stationNames).toContain(station);
      expect(lost / 3600).toBeGreaterThan(expected - 0.05);
      expect(lost / 3600).toBeLessThan(expected + 0.05);
    }
  });
});
