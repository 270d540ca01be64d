import * as fc from 'fast-check';
import { fates, lossFates } from '@mellow/model';
import { brokenIdentities, isFiled, NEVER } from '../ledger';
import { forecastOf, pathParametersOf, shownPassages } from '../forecast';
import { testContext } from '../forecast/testContext.test-support';
import { anyRecipe } from '../recipe/anyRecipe.test-support';
import { createDriveQueue } from './driveQueue';
import {
  createSharedResource,
  secondRowsOf,
  simulateGameAlone,
  simulatePath,
  workFactors,
  type PathParameters,
} from './index';

/**
 * Closed forms that the simulation must meet within 5 % (fixed seeds, enough arrivals):
 * Kleinrock, Queueing Systems, volumes I (M/D/1 by Pollaczek and Khinchine, D/M/1) and II (processor sharing);
 * Gross and Harris, Fundamentals of Queueing Theory (finite rooms by the embedded chain). Editions from memory.
 */
const quiet: PathParameters = {
  seed: 1,
  rate: { num: 60, den: 1 },
  dueFrames: 600,
  scenes: [],
  stalls: [],
  cores: 4,
  othersCores: 0,
  game: {
    processor: { meanUs: 2000, cv: 0, phi: 0 },
    graphicsUs: 0,
    capUs: 1e6 / 120,
    jitterUs: 0,
    helpers: { meanUs: 0, parallelism: 1 },
    slowedBy: { processor: 1, graphics: 1 },
    framesAhead: 0,
    weight: 1,
  },
  capture: { grabUs: 0, wakeMedianUs: 0, wakeSigma: 0 },
  size: null,
  encode: {
    work: { meanUs: 4000, cv: 0, phi: 0 },
    parallelism: null,
    weight: 1,
    turnUs: 0,
    heldFrames: 0,
    repeatShare: 1,
    queueFrames: 8,
  },
  packUs: 100,
  drive: {
    bytesPerSecond: 100e6,
    contention: 1,
    stallsPerSecond: 0,
    stallMedianUs: 0,
    stallSigma: 0,
    waitingFromStartBytes: 0,
    waitingLimitBytes: 64e6,
  },
  bytes: { mean: 30_000, cv: 0.2, keyDistance: 120, keyFactor: 5 },
  soundBytesPerSecond: 100_000,
};
const countOf = (run: ReturnType<typeof simulatePath>, fate: (typeof fates)[number]) =>
  run.columns.fate.reduce((sum, code) => sum + (fates[code] === fate ? 1 : 0), 0);
const waitsUs = (run: ReturnType<typeof simulatePath>): number[] => {
  const waits: number[] = [];
  for (let n = 0; n < run.columns.length; n++)
    if (run.columns.encodeIn[n]! > NEVER) waits.push(run.columns.encodeIn[n]! - run.columns.sized[n]!);
  return waits;
};
const filedRows = (run: ReturnType<typeof simulatePath>) =>
  Array.from({ length: run.columns.length }, (_, n) => n).filter((n) => isFiled(run.columns, n));
const meanOf = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;

describe('the simulated path', () => {
  it('loses nothing and repeats nothing when every load is well under its budget', () => {
    const run = simulatePath(quiet);
    expect(countOf(run, 'new')).toBe(600);
  });
  it('is the same for the same parameters', () => {
    const p = pathParametersOf(testContext().start, testContext(), forecastOf(testContext().start, testContext()), 7);
    expect(simulatePath(p).columns).toEqual(simulatePath(p).columns);
  });
  it('overload D/D/1/K: loses 1 - 1/rho of the frames, and begins within K frames of the queue', () => {
    const rho = 1.6;
    const run = simulatePath({
      ...quiet,
      dueFrames: 6000,
      encode: { ...quiet.encode, work: { meanUs: (1e6 / 60) * rho, cv: 0, phi: 0 } },
    });
    expect(countOf(run, 'encode-miss') / 6000).toBeCloseTo(1 - 1 / rho, 2);
    const first = run.columns.fate.findIndex((code) => fates[code] === 'encode-miss');
    expect(first).toBeLessThanOrEqual(Math.ceil(8 / (1 - 1 / rho)) + 1);
  });
  /** Exponential services of a mean, one for each due. */
  const exponential = (seed: number, meanUs: number, count: number): Float64Array => {
    const random = workUniform(seed);
    return Float64Array.from({ length: count }, () => -Math.log(1 - random()) * meanUs);
  };
  const served = (each: Float64Array, queueFrames: number) =>
    simulatePath({
      ...quiet,
      dueFrames: each.length,
      encode: { ...quiet.encode, work: { meanUs: 0, cv: 0, phi: 0, each }, queueFrames },
    });

  it('D/M/1: waits x/(1-x) of a service, x = exp(-(1-x)/rho) (Kleinrock I; rho 0.8: 1.693)', () => {
    const service = (1e6 / 60) * 0.8;
    const wait = meanOf(waitsUs(served(exponential(99, service, 60_000), 1_000_000))) / service;
    expect(wait).toBeGreaterThan(1.693 * 0.95);
    expect(wait).toBeLessThan(1.693 * 1.05);
  });
  it('D/M/1/K: loses what the embedded chain says (Gross and Harris)', () => {
    const [rho, room] = [0.9, 4];
    const run = served(exponential(7, (1e6 / 60) * rho, 60_000), room);
    // State: frames inside just before an arrival; services ended within a period are Poisson with mean 1/rho.
    const ended = (k: number) => (Math.exp(-1 / rho) * (1 / rho) ** k) / [1, 1, 2, 6, 24, 120][k]!;
    let state: number[] = Array.from({ length: room + 1 }, (_, n) => (n === 0 ? 1 : 0));
    for (let round = 0; round < 2000; round++) {
      const next = Array(room + 1).fill(0) as number[];
      state.forEach((share, n) => {
        const inside = Math.min(room, n + 1);
        let rest = 1;
        for (let k = 0; k < inside; k++) {
          next[inside - k]! += share * ended(k);
          rest -= ended(k);
        }
        next[0]! += share * rest;
      });
      state = next;
    }
    const lost = countOf(run, 'encode-miss') / 60_000;
    expect(lost / state[room]!).toBeGreaterThan(0.95);
    expect(lost / state[room]!).toBeLessThan(1.05);
  });
  it('a station of one server follows Lindley’s recursion exactly, frame by frame', () => {
    const run = simulatePath({
      ...quiet,
      dueFrames: 3000,
      encode: { ...quiet.encode, work: { meanUs: 12_500, cv: 0.6, phi: 0.5 }, queueFrames: 1_000_000 },
    });
    const expected = lindley(run.encodeWorkUs, 1e6 / 60);
    waitsUs(run).forEach((wait, n) => expect(Math.abs(wait - expected[n]!)).toBeLessThanOrEqual(n * 0.01 + 2));
  });
  it('Little’s law: frames in Encode = rate in x time there', () => {
    const run = simulatePath({
      ...quiet,
      dueFrames: 6000,
      encode: { ...quiet.encode, work: { meanUs: 14_000, cv: 0.5, phi: 0.6 }, queueFrames: 1_000_000 },
    });
    const stays = Array.from({ length: 6000 }, (_, n) => run.columns.encodeOut[n]! - run.columns.sized[n]!);
    const rate = 60 / 1e6;
    // Time average by sampling the number inside at every due.
    let inside = 0;
    for (let n = 200; n < 6000; n++)
      for (let k = Math.max(0, n - 400); k <= n; k++)
        if (
          run.columns.dueUs[k]! + run.columns.encodeOut[k]! > run.columns.dueUs[n]! + 8333 &&
          run.columns.dueUs[k]! + run.columns.sized[k]! <= run.columns.dueUs[n]! + 8333
        )
          inside++;
    expect(inside / 5800).toBeGreaterThan(rate * meanOf(stays) * 0.93);
    expect(inside / 5800).toBeLessThan(rate * meanOf(stays) * 1.07);
  });
  it('every row is in order, every due has one fate, and frames are conserved over random recipes (identities)', () => {
    const context = testContext();
    fc.assert(
      fc.property(
        anyRecipe,
        fc.integer({ min: 0, max: 10_000 }),
        fc.integer({ min: 1, max: 8 }),
        (recipe, seed, cores) => {
          const here = { ...context, machine: { ...context.machine!, cores } };
          const p = pathParametersOf(recipe, here, forecastOf(recipe, here), seed, [
            { kind: 'busy', seconds: 1.5 },
            { kind: 'loading', seconds: 1 },
          ]);
          const run = simulatePath(p);
          const counted = ['new', 'repeat', ...lossFates].reduce((sum, fate) => sum + countOf(run, fate as 'new'), 0);
          expect(counted).toBe(run.columns.length);
          expect(
            brokenIdentities(run.columns, {
              filePictures: filedRows(run),
              presented: null,
              passedOver: null,
              notReached: null,
            }),
          ).toEqual([]);
        },
      ),
      { numRuns: 120, seed: 20 },
    );
  });
  it('a recipe is compared on the same draws: another effort leaves the game alone as it was', () => {
    const context = testContext();
    const parameters = (effort: 'light' | 'thorough') => {
      const recipe = { ...context.start, encode: { ...context.start.encode, effort } };
      return pathParametersOf(recipe, context, forecastOf(recipe, context), 5);
    };
    expect(simulateGameAlone(parameters('light'))).toEqual(simulateGameAlone(parameters('thorough')));
  });
});

const workUniform = (seed: number) => {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
};
/** Waiting times of a single server with regular arrivals: w(n+1) = max(0, w(n) + s(n) - t) (Lindley 1952). */
const lindley = (services: ArrayLike<number>, gapUs: number): number[] => {
  const waits = [0];
  for (let n = 0; n + 1 < services.length; n++) waits.push(Math.max(0, waits[n]! + services[n]! - gapUs));
  return waits;
};

describe('shared resources', () => {
  /** Serves arrivals on a shared resource, at most 64 inside at a time; returns the time in system of each. */
  const sharing = (arrivalsUs: number[], works: number[], capacity: number, most: number): number[] => {
    const places = 64;
    const shared = createSharedResource(capacity, places);
    const inPlace: number[] = Array(places).fill(-1);
    const done: number[] = Array(works.length).fill(0);
    let now = 0;
    let next = 0;
    for (;;) {
      const until = shared.untilNext();
      const arrival = next < arrivalsUs.length ? arrivalsUs[next]! - now : Infinity;
      if (until === Infinity && arrival === Infinity) return done;
      const step = Math.min(until, arrival);
      const place = shared.nextJob();
      shared.advance(step);
      now += step;
      if (arrival <= until) {
        const free = inPlace.indexOf(-1);
        if (free < 0) throw new Error('more than 64 jobs at once');
        inPlace[free] = next;
        shared.start(free, works[next]!, most, 1);
        next++;
      } else {
        done[inPlace[place]!] = now - arrivalsUs[inPlace[place]!]!;
        inPlace[place] = -1;
        shared.stop(place);
      }
    }
  };
  it('two endless jobs on one core take twice as long', () =>
    expect(sharing([0, 0], [1000, 1000], 1, 1)).toEqual([2000, 2000]));
  it('a job never gets more than it can use, nor all jobs more than there is', () => {
    const shared = createSharedResource(4, 3);
    shared.start(0, 1e9, 1, 1);
    shared.start(1, 1e9, 2, 2);
    shared.start(2, 1e9, 8, 8);
    shared.untilNext();
    shared.advance(1000);
    expect(shared.received(0)).toBeLessThanOrEqual(1000 + 1e-6);
    expect(shared.received(1)).toBeLessThanOrEqual(2000 + 1e-6);
    expect(shared.received(0) + shared.received(1) + shared.received(2)).toBeCloseTo(4000, 6);
  });
  it('processor sharing M/G/1: E[T | x] = x / (1 - rho) (Kleinrock II)', () => {
    const random = workUniform(5);
    const rho = 0.6;
    const count = 60_000;
    const sizes = workUniform(77);
    const works = Array.from({ length: count }, () => (sizes() < 0.5 ? 500 : 1500));
    let at = 0;
    const arrivals = works.map(() => (at += (-Math.log(1 - random()) * 1000) / rho));
    const times = sharing(arrivals, works, 1, 1);
    for (const size of [500, 1500]) {
      const mean = meanOf(times.filter((_, i) => works[i] === size && i > 200));
      expect(mean / (size / (1 - rho))).toBeGreaterThan(0.95);
      expect(mean / (size / (1 - rho))).toBeLessThan(1.05);
    }
  });
  it('M/D/1 first come first served, as the drive is: waits rho / (2 mu (1 - rho)) (Pollaczek and Khinchine; Kleinrock I)', () => {
    const random = workUniform(31);
    const [rho, serviceUs, count] = [0.7, 10_000, 120_000];
    const drive = createDriveQueue({ ...quiet, drive: { ...quiet.drive, bytesPerSecond: 100e6 } }, 1e9);
    let at = 0;
    let waited = 0;
    for (let n = 0; n < count; n++) {
      at += (-Math.log(1 - random()) * serviceUs) / rho;
      waited += drive.handOver(at, 1_000_000) - at - serviceUs;
    }
    const expected = (rho * serviceUs) / (2 * (1 - rho));
    expect(waited / count / expected).toBeGreaterThan(0.95);
    expect(waited / count / expected).toBeLessThan(1.05);
  });
});

describe('draws', () => {
  it('factors have mean 1, the asked spread and correlation', () => {
    const factors = workFactors(17, 200_000, 0.3, 0.7);
    const mean = meanOf([...factors]);
    const deviations = [...factors].map((f) => f - mean);
    const variance = meanOf(deviations.map((d) => d * d));
    const lag = meanOf(deviations.slice(1).map((d, i) => d * deviations[i]!)) / variance;
    expect(mean).toBeCloseTo(1, 1);
    expect(Math.sqrt(variance) / mean).toBeCloseTo(0.3, 1);
    expect(lag).toBeGreaterThan(0.62);
    expect(lag).toBeLessThan(0.75);
  });
});

describe('play cost', () => {
  const cost = (encoder: 'avc-software' | 'avc-card', effort: 'lightest' | 'thorough') => {
    const context = testContext({ game: { capFps: null }, context: {} });
    // A game that draws on the processor, as the practice game does, so that both want the same thing.
    const here = {
      ...context,
      machine: { ...context.machine!, cores: 2, graphics: encoder === 'avc-card' ? context.machine!.graphics : null },
    };
    const recipe = { ...context.start, encode: { ...context.start.encode, encoder, effort } };
    const p = pathParametersOf(recipe, here, forecastOf(recipe, here), 4, shownPassages);
    const run = simulatePath(p);
    return 1 - run.presentsUs.length / simulateGameAlone(p).length;
  };
  it('grows with the effort of a software encoder, and is small with a block', () => {
    expect(cost('avc-software', 'thorough')).toBeGreaterThan(cost('avc-software', 'lightest') + 0.02);
    expect(cost('avc-card', 'lightest')).toBeLessThan(0.12);
    expect(cost('avc-card', 'lightest')).toBeGreaterThan(0);
  });
});

describe('a turn among an encoder’s threads', () => {
  // A core for each: what is waited for is the turn alone.
  const waiting = (capUs: number, encodeUs: number): number => {
    const run = simulatePath({
      ...quiet,
      dueFrames: 6000,
      game: { ...quiet.game, capUs },
      encode: {
        ...quiet.encode,
        work: { meanUs: encodeUs, cv: 0, phi: 0 },
        parallelism: 1,
        turnUs: 20_000,
      },
    });
    const { presentsUs } = run;
    return (presentsUs.at(-1)! - presentsUs[100]!) / (presentsUs.length - 101);
  };
  it('is waited for evenly up to its longest by a game that sleeps to its cap: E max(cap, U + work), by hand', () => {
    // Cap 16 667, work 2 000, U up to 20 000: 0.7333 x 16 667 + the mean of what lies beyond, 5 156.
    expect(waiting(1e6 / 60, 20_000) / 17_378).toBeGreaterThan(0.98);
    expect(waiting(1e6 / 60, 20_000) / 17_378).toBeLessThan(1.02);
  });
  it('is no matter of a game that runs free, nor where the encoder rests', () => {
    expect(waiting(0, 20_000)).toBeLessThan(2_100);
    expect(waiting(1e6 / 60, 10)).toBeLessThan(16_700);
  });
});

describe('rows of seconds', () => {
  it('cover the take and add up to its bytes', () => {
    const run = simulatePath(quiet);
    const rows = secondRowsOf(run, quiet);
    expect(rows).toHaveLength(10);
    expect(rows.at(-1)?.due).toBe(600);
    const bytes = run.columns.bytes.reduce((sum, b) => sum + b, 0);
    expect(rows.reduce((sum, row) => sum + row.bytesWritten - quiet.soundBytesPerSecond, 0)).toBeCloseTo(bytes, 0);
  });
  it('a slow drive makes write misses, and the ledger says how much waited', () => {
    const run = simulatePath({
      ...quiet,
      dueFrames: 1800,
      bytes: { mean: 600_000, cv: 0, keyDistance: 1, keyFactor: 1 },
      drive: { ...quiet.drive, bytesPerSecond: 20e6, waitingLimitBytes: 40e6 },
    });
    expect(countOf(run, 'write-miss')).toBeGreaterThan(100);
    expect(run.bytesQueuedPeak).toBeGreaterThan(40e6);
  });
});
