import { stationNames, type Calibration, type Figure, type Station, type Take } from '@mellow/model';
import { testLedger } from '../ledger/testLedger.test-support';
import { testSecond, testTake } from '../verdict/testTake.test-support';
import { calibrationOf } from './calibrate';
import type { ForecastContext } from './context';
import { forecastOf, type Forecast } from './forecast';
import { testContext } from './testContext.test-support';

/** A setup whose recipe scales and encodes in software, with one trial of it: everything that can be measured was. */
const base = testContext();
const recipe = {
  ...base.start,
  size: { ...base.start.size, widthPx: 1280, heightPx: 720 },
  encode: { ...base.start.encode, encoder: 'avc-software' as const, effort: 'light' as const },
};
const game = { ...base.game };
const run = {
  frames: 1200,
  seconds: 10,
  meanFps: 118,
  onePercentLowFps: 90,
  slowestMs: [12],
  blocks: [],
  turnBlocks: [],
};
const columns = testLedger({ num: 60, den: 1 }, Array<'new'>(600).fill('new'));
const take: Take = testTake(
  columns,
  {
    recipe,
    game,
    number: 4,
    playCost: { without: run, with: run, pairs: 2, interval: null },
    likeness: { pictures: 50, ssim: 0.98, worstSecondSsim: 0.97, worstSecond: 2, exact: false },
  } as unknown as Partial<Take>,
  [testSecond(4)],
);
const here = { ...base.machine!, origin: 'measured' as const, graphics: null };
const contextWith = (calibration: Calibration, machine: ForecastContext['machine'] = here): ForecastContext => ({
  ...base,
  game,
  machine,
  calibration,
});
const taught = calibrationOf([take]);

/** Every figure of a forecast that can say where it comes from. */
const figures: Record<string, (f: Forecast) => Pick<Figure, 'origin' | 'from'> | null> = {
  'work of the game': (f) => f.work.game.processorUs,
  'handing over': (f) => f.work.grabUs,
  'work of Size': (f) => f.work.size,
  'work of Encode': (f) => f.work.encode,
  'work of Pack': (f) => f.work.packUs,
  picture: (f) => f.picture.ssim,
  ...Object.fromEntries(
    stationNames.filter((name) => name !== 'drive').map((name) => [`load of ${name}`, (f: Forecast) => f.loads[name]]),
  ),
};
const without = (station: Station): Calibration => ({
  ...taught,
  loads: taught.loads.map((load) => ({ ...load, stations: { ...load.stations, [station]: null } })),
});
/** What of the trial each figure stands on. */
const takenAway: Record<string, Calibration> = {
  'work of the game': { ...taught, loads: taught.loads.map((load) => ({ ...load, gameProcessorUs: null })) },
  'load of game': { ...taught, loads: taught.loads.map((load) => ({ ...load, gameProcessorUs: null })) },
  'handing over': without('capture'),
  'load of capture': without('capture'),
  'work of Size': without('size'),
  'load of size': without('size'),
  'work of Encode': without('encode'),
  'load of encode': without('encode'),
  'work of Pack': without('pack'),
  'load of pack': without('pack'),
  picture: { ...taught, rates: taught.rates.map((rate) => ({ ...rate, likeness: null })) },
};

it('the load of the drive never is: what will be written is foretold, however surely the drive was measured', () => {
  const drives = base.drives.map((drive) => ({ ...drive, simulated: false }));
  for (const calibration of [taught, calibrationOf([])]) {
    const { drive } = forecastOf(recipe, { ...contextWith(calibration), drives }).loads;
    expect(drive?.origin).toBe(calibration.rates.length ? 'fitted' : 'typical');
    expect(drive?.from).toContain('write speed measured here');
  }
});

describe('a figure is called measured', () => {
  const names = Object.keys(figures);
  it('in this forecast: all of them, so that each is looked at', () => {
    const forecast = forecastOf(recipe, contextWith(taught));
    expect(names.filter((name) => figures[name]!(forecast)?.origin !== 'measured')).toEqual([]);
    for (const name of names) expect(figures[name]!(forecast)?.from).toContain('trial 4');
    expect(Object.keys(takenAway).sort()).toEqual([...names].sort());
  });
  it.each(names)('%s: not when the trial did not measure it', (name) => {
    const forecast = forecastOf(recipe, contextWith(takenAway[name]!));
    expect(figures[name]!(forecast)?.origin).not.toBe('measured');
    expect(figures[name]!(forecast)?.from).not.toContain('measured in');
  });
  it.each(names)('%s: not before any trial', (name) => {
    const none = calibrationOf([]);
    const unproven = { ...here, encoders: here.encoders.map((e) => ({ ...e, workUsPerMegapixel: null })) };
    expect(figures[name]!(forecastOf(recipe, contextWith(none, unproven)))?.origin).not.toBe('measured');
  });
  it.each(names.filter((name) => name.startsWith('load')))('%s: not on a simulated machine', (name) => {
    const forecast = forecastOf(recipe, contextWith(taught, { ...here, origin: 'simulated' }));
    expect(figures[name]!(forecast)?.origin).not.toBe('measured');
  });
});
