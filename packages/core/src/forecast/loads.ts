import { isGrabbed, type Figure, type Recipe, type Station } from '@mellow/model';
import { encodeMix, encoderFacts, encodeWorkUs } from '../codec';
import { cameraWorkUs, fitInto } from '../picture';
import { passesThrough, sizeWorkUs } from './sizeWork';
import { periodUs } from '../units';
import { blockContentShare, coresOf, sceneFactors, sceneOf, sceneShares, type ForecastContext } from './context';
import { encodeParallelism, gameWorkOf, type GameWork } from './gameWork';

/** Load of a station against its budget. At the drive in MB/s, elsewhere in milliseconds a frame. */
export interface LoadForecast {
  usual: number;
  busiest: number;
  /** Range of the busiest 1 %, 10 to 90 %. */
  low: number;
  high: number;
  budget: number;
  unit: 'ms' | 'MB/s';
  origin: Figure['origin'];
  from: string;
}

/** Work of the stations as the simulation needs it, and as the gauges show it. */
export interface StationWork {
  game: GameWork;
  grabUs: Figure;
  size: Figure | null;
  encode: Figure;
  /** Null: a block of its own. */
  parallelism: number | null;
  packUs: Figure;
  cv: number;
  phi: number;
}

const z99 = 2.326;
/** 99th percentile of a lognormal with mean 1. */
const busiestFactor = (cv: number): number => {
  const variance = Math.log(1 + cv * cv);
  return Math.exp(z99 * Math.sqrt(variance) - variance / 2);
};
const encodeCv = 0.18;
/** A fixed-function block varies little from frame to frame; an assumption. */
const blockCv = 0.04;
const encodePhi = 0.6;
/** AV1 in software works on groups of pictures side by side: its work comes in waves (fitted on paired trials). */
const av1Spread = { cv: 0.6, phi: 0.93 };

/** The mean of `n` neighbours of an autoregressive series varies less than one of them (Box and Jenkins, 2.1). */
const cvOfMean = (cv: number, phi: number, n: number): number => cv * Math.sqrt(Math.min(1, (1 + phi) / (1 - phi) / n));
/** X11 by shared memory, microseconds a million pixels: 1.2 ms of 640x360 and 6.6 of 1280x720 beside a game were measured. */
const grabUsPerMegapixel = 5500;

const typical = (value: number, wide: number, from: string): Figure => ({
  value,
  low: value / wide,
  high: value * wide,
  origin: 'typical',
  from,
});

/** Work at every station: from this setup's trials where they tell, otherwise typical. */
export function stationWork(recipe: Recipe, context: ForecastContext): StationWork {
  const { machine, calibration, game } = context;
  const cores = coresOf(context);
  const software = encoderFacts[recipe.encode.encoder].place === 'software';
  const last = calibration.loads[0];
  const grabbed = isGrabbed(recipe.source);
  // Of the practice game a picture is handed over; the screen has to be asked for it.
  const grab = last && isGrabbed(last.recipe.source) === grabbed ? last.stations.capture : null;
  // A picture is handed over by number, whatever its size; one of the screen is copied.
  const grabScale =
    last && grabbed ? (game.widthPx * game.heightPx) / (last.gameSize.widthPx * last.gameSize.heightPx) : 1;
  const pack = last?.stations.pack;
  return {
    game: gameWorkOf(context),
    grabUs: grab
      ? {
          value: grab.usualMs * 1000 * grabScale,
          low: grab.usualMs * 800 * grabScale,
          high: grab.busiestMs * 1000 * grabScale,
          origin: grabScale === 1 ? 'measured' : 'fitted',
          from: `${grabScale === 1 ? 'measured in' : 'scaled by pixels from'} trial ${last?.trial}`,
        }
      : grabbed
        ? typical(500 + (grabUsPerMegapixel * game.widthPx * game.heightPx) / 1e6, 2, 'typical for grabbing from X11')
        : typical(machine?.graphics ? 1200 : 150, 2, 'typical for handing a picture over'),
    size: passesThrough(game, recipe) ? null : sizeFigure(recipe, context),
    encode: encodeFigure(recipe, context),
    parallelism: software ? encodeParallelism(recipe, cores) : null,
    packUs: pack
      ? {
          value: pack.usualMs * 1000,
          low: pack.usualMs * 700,
          high: pack.busiestMs * 1000,
          origin: 'measured',
          from: `measured in trial ${last.trial}`,
        }
      : typical(400 + 150 * recipe.lanes.length, 2, 'typical for joining tracks'),
    ...(recipe.encode.encoder === 'av1-software' ? av1Spread : { cv: software ? encodeCv : blockCv, phi: encodePhi }),
  };
}

const clean = (trial: number): string => `measured in trial ${trial}`;

function sizeFigure(recipe: Recipe, context: ForecastContext): Figure {
  const { calibration, game, machine } = context;
  const own = (r: Recipe): number =>
    sizeWorkUs(game, { ...r, size: { ...r.size, ...fitInto(game, r.size, r.size.fit).picture } }, 1) + cameraWorkUs(r);
  const trial = calibration.loads.find((load) => load.stations.size !== null && load.stations.size.usualMs > 0);
  if (trial?.stations.size) {
    const scale = own(recipe) / Math.max(1, own(trial.recipe));
    const us = trial.stations.size.usualMs * 1000 * scale;
    const same = Math.abs(scale - 1) < 0.001;
    return {
      value: us,
      low: us * (same ? 0.9 : 0.7),
      high: us * (same ? 1.1 : 1.4),
      origin: same ? 'measured' : 'fitted',
      from: same ? clean(trial.trial) : `scaled from trial ${trial.trial} by pixels and filter`,
    };
  }
  return typical(own(recipe) / (machine?.coreSpeed.value ?? 1), 1.8, 'typical for scaling; a trial measures it');
}

/** Encode work: the nearest trial with the same encoder, scaled by pixels and effort; otherwise the machine's probe or a typical value. */
function encodeFigure(recipe: Recipe, context: ForecastContext): Figure {
  const { calibration, machine } = context;
  const scene = sceneOf(context.game, context.shares);
  const typicalNow = encodeWorkUs(recipe, machine, scene);
  const usable = calibration.loads.filter(
    (load) => load.recipe.encode.encoder === recipe.encode.encoder && load.stations.encode !== null,
  );
  const distance = (other: Recipe): number =>
    Math.abs(Math.log(encodeWorkUs(other, machine, scene).value / typicalNow.value));
  const nearest = usable.toSorted((a, b) => distance(a.recipe) - distance(b.recipe))[0];
  if (!nearest?.stations.encode) return typicalNow;
  const parallel =
    encoderFacts[recipe.encode.encoder].place === 'software' ? encodeParallelism(nearest.recipe, nearest.cores) : 1;
  const measuredUs = nearest.stations.encode.usualMs * 1000 * parallel;
  const scale = typicalNow.value / encodeWorkUs(nearest.recipe, machine, scene).value;
  const off = Math.abs(Math.log(scale));
  const wide = Math.exp(0.08 + 0.3 * off);
  const value = measuredUs * scale;
  return {
    value,
    low: value / wide,
    high: value * wide,
    origin: off < 0.02 ? 'measured' : 'fitted',
    from: off < 0.02 ? clean(nearest.trial) : `scaled from trial ${nearest.trial} by pixels and effort`,
  };
}

/** Gauges of the stations before the drive, without simulating: usual load, and the busiest 1 % in a busy passage. */
export function frameLoads(
  recipe: Recipe,
  work: StationWork,
  game: ForecastContext['game'],
): Record<Exclude<Station, 'drive'>, LoadForecast | null> {
  const budget = periodUs(recipe.rate) / 1000;
  const ms = (usualUs: number, busiestUs: number, figure: Figure): LoadForecast => ({
    usual: usualUs / 1000,
    busiest: busiestUs / 1000,
    low: (busiestUs * figure.low) / figure.value / 1000,
    high: (busiestUs * figure.high) / figure.value / 1000,
    budget,
    unit: 'ms',
    origin: figure.origin,
    from: figure.from,
  });
  const { game: gameWork } = work;
  const gameUs = Math.max(gameWork.processorUs.value, gameWork.graphicsUs);
  const capUs = game.capFps === null ? 0 : 1e6 / game.capFps;
  const gameBusiest = gameUs * sceneFactors.busy * busiestFactor(gameWork.cv);
  const units = work.parallelism ?? 1;
  const encodeUs = work.encode.value / units;
  const mix = encodeMix(game.scene, sceneShares(game), work.parallelism === null ? blockContentShare : 1);
  const busyFactor = Math.max(1, mix.busy);
  return {
    game: ms(Math.max(capUs, gameUs), Math.max(capUs, gameBusiest), gameWork.processorUs),
    capture: ms(work.grabUs.value, Math.max(work.grabUs.high, work.grabUs.value * 1.3), work.grabUs),
    size: work.size ? ms(work.size.value, work.size.value * 1.25, work.size) : null,
    // What an encoder with threads of its own spends is known by the second, before and after: its busiest 1 % are seconds.
    encode: ms(
      encodeUs,
      encodeUs * busyFactor * busiestFactor(cvOfMean(work.cv, work.phi, 1000 / budget)),
      work.encode,
    ),
    pack: ms(work.packUs.value, Math.max(work.packUs.high, work.packUs.value * 1.4), work.packUs),
  };
}
