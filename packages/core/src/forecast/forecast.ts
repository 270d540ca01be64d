import { stationNames, type DriveFacts, type EncoderName, type Figure, type Recipe, type Station } from '@mellow/model';
import {
  codecString,
  forecastPicture,
  forecastRate,
  lanesBits,
  levelOf,
  perPixel,
  type PictureForecast,
} from '../codec';
import { asFiled } from '../picture/camera';
import { textHeightPx } from '../picture';
import {
  containerOverheadBits,
  longestMinutes,
  roomFor,
  sharedWithGame,
  speedCheck,
  type SpeedCheck,
} from '../storage';
import { framesPerSecond } from '../units';
import { usualError } from './calibrate';
import { coresOf, driveOf, sceneOf, type ForecastContext } from './context';
import { frameLoads, stationWork, type LoadForecast, type StationWork } from './loads';
import { secondsLostIfKilled } from './safety';

/** What is expected of a recipe before anything is recorded; every figure with its range and where it comes from. */
export interface Forecast {
  encoder: EncoderName;
  /** Bits a second of the whole file. */
  bits: Figure;
  pictureBits: number;
  soundBits: number;
  loads: Record<Station, LoadForecast | null>;
  work: StationWork;
  picture: PictureForecast;
  /** Height of the game's smallest text in the file, and in the game. */
  smallText: { filePx: number; gamePx: number };
  secondsLost: number;
  drive: DriveFacts | null;
  speed: SpeedCheck | null;
  /** Minutes one take may last on the drive; null: not known. */
  roomMinutes: number | null;
  level: string | null;
  codec: string | null;
  /** "from 6 trials, within 8 %". */
  basis: string;
}

const figureOf = (value: number, low: number, high: number, origin: Figure['origin'], from: string): Figure => ({
  value,
  low,
  high,
  origin,
  from,
});

const scaled = ({ value, low, high, origin, from }: Figure, by: number): Figure =>
  figureOf(value * by, low * by, high * by, origin, from);

/** Size of the file: a set rate is known, a quality number comes from the rate model; sound and container are added. */
function sizeOf(recipe: Recipe, context: ForecastContext) {
  const scene = sceneOf(context.game, context.shares);
  const { encode, size } = asFiled(recipe);
  const pixelsPerSecond = size.widthPx * size.heightPx * framesPerSecond(recipe.rate);
  const sound = lanesBits(recipe.lanes, recipe.sounds);
  const set = encode.rateControl === 'constant-bitrate' || encode.rateControl === 'variable-bitrate';
  const middle = forecastRate(
    {
      ...recipe,
      encode: {
        ...encode,
        rateControl: 'constant-quality',
      },
    },
    context.calibration.rates,
    scene,
  );
  const rate = set ? null : forecastRate(recipe, context.calibration.rates, scene);
  const add = sound.value + containerOverheadBits(recipe);
  const setBits = encode.bitrateKbps * 1000;
  const { value, low, high, origin, from } = rate
    ? scaled(rate.bitsPerPixel, pixelsPerSecond)
    : figureOf(
        setBits,
        // Short takes and encoders without filler stay off a constant rate by a tenth and more.
        setBits * (encode.rateControl === 'constant-bitrate' ? 0.88 : 0.7),
        encode.rateControl === 'constant-bitrate' ? setBits * 1.12 : Math.max(setBits, encode.ceilingKbps * 1000),
        'typical',
        'from the set bitrate',
      );
  // Picture and sound are uncertain for reasons of their own: their distances add as squares do.
  const bits = figureOf(
    value + add,
    value + add - Math.hypot(value - low, sound.value - sound.low),
    value + add + Math.hypot(high - value, sound.high - sound.value),
    origin,
    from,
  );
  const picture = forecastPicture(
    recipe,
    set ? perPixel(setBits, recipe) : null,
    middle,
    scene,
    context.calibration.rates,
  );
  return { bits, picture, pictureBits: value, soundBits: sound.value };
}

/** Busy seconds against the mean; an assumption. */
const busiestShare = 1.5;

/** The forecast of a recipe without simulating; some microseconds, so that thousands of candidates can be looked at. */
export function forecastOf(recipe: Recipe, context: ForecastContext): Forecast {
  const size = sizeOf(recipe, context);
  const work = stationWork(recipe, context);
  const drive = driveOf(recipe, context);
  const shared = drive ? sharedWithGame(drive, context.game.facts.driveId, context.drives) : null;
  const speed = drive ? speedCheck(drive, size.bits.value / 8, shared) : null;
  const busiestBytes = (size.bits.value / 8) * busiestShare;
  const driveLoad: LoadForecast | null = speed?.availableBytesPerSecond
    ? {
        usual: size.bits.value / 8e6,
        busiest: busiestBytes / 1e6,
        low: (size.bits.low / 8e6) * busiestShare,
        high: (size.bits.high / 8e6) * busiestShare,
        budget: speed.availableBytesPerSecond / 1e6,
        unit: 'MB/s',
        // What will be written is foretold, however surely the drive was measured.
        origin: drive?.simulated ? 'assumed' : size.bits.origin,
        from: drive?.simulated
          ? 'speed of a simulated drive'
          : `${size.bits.from}; against the write speed measured here`,
      }
    : null;
  const roomBytes = drive ? roomFor(recipe, context.drives) : null;
  const { game } = context;
  return {
    encoder: recipe.encode.encoder,
    ...size,
    loads: asKnownOn(context.machine, { ...frameLoads(recipe, work, game), drive: driveLoad }),
    work,
    smallText: {
      filePx: textHeightPx(game, recipe.size, recipe.size.fit, game.facts.smallTextPx),
      gamePx: game.facts.smallTextPx,
    },
    secondsLost: secondsLostIfKilled(recipe, coresOf(context)),
    drive,
    speed,
    roomMinutes: roomBytes === null ? null : longestMinutes(roomBytes, size.bits.value / 8, recipe.rewrap),
    level: levelOf(recipe)?.name ?? null,
    codec: codecString(recipe),
    basis: basisOf(context),
  };
}

/** What a trial on a simulated machine gave is no measurement: its times came from the model. */
function asKnownOn(machine: ForecastContext['machine'], loads: Forecast['loads']): Forecast['loads'] {
  if (machine?.origin !== 'simulated') return loads;
  const told = (load: LoadForecast | null): LoadForecast | null =>
    load?.origin === 'measured'
      ? { ...load, origin: 'assumed', from: load.from.replace('measured in', 'simulated in') }
      : load;
  return Object.fromEntries(stationNames.map((name) => [name, told(loads[name])])) as Forecast['loads'];
}

function basisOf({ calibration, machine }: ForecastContext): string {
  const trials = new Set([...calibration.rates.map((r) => r.trial), ...calibration.loads.map((l) => l.trial)]).size;
  const where =
    machine?.origin === 'simulated'
      ? ` on ${machine.name}, simulated`
      : calibration.madeOn
        ? ` on ${calibration.madeOn}`
        : '';
  if (!trials) return `before any trial${where}`;
  const error = usualError(calibration.errors.map((e) => e.bitsRatio));
  return `from ${trials} ${trials === 1 ? 'trial' : 'trials'}${where}${error === null ? '' : `, size off by ${Math.max(1, Math.round(error * 100))} % in the mean so far`}`;
}

/** The station that decides: the one whose busiest 1 % is nearest to its budget or above. */
export function tightest(forecast: Forecast): { station: Station; share: number } | null {
  let found: { station: Station; share: number } | null = null;
  for (const station of stationNames) {
    const load = forecast.loads[station];
    if (!load || station === 'game') continue;
    const share = load.busiest / load.budget;
    if (!found || share > found.share) found = { station, share };
  }
  return found;
}
