import { stationNames, type Recipe, type Station } from '@mellow/model';
import type { Forecast, ForecastContext, Predicted } from '../forecast';
import { gameReachFps } from '../recipe/gameReach';
import { containerWords, stationWords } from '../recipe/words';
import { bytesPerHour } from '../storage';
import { formatBytes, formatCount, formatFps, formatPercent, framesPerSecond } from '../units';
import { exactly, type Known, type Quantities, type Quantity } from './judge';
import { opensIn } from './opens';

/** What the simulation says of a recipe. */
export type Simulated = Pick<Predicted, 'missesPerMinute' | 'playCost' | 'byStation'>;

const notYet: Quantities = {
  lost: { unknown: 'is being simulated' },
  'play-cost': { unknown: 'is being simulated' },
};

const rangeOf = ({ value, low, high }: Known, by: (value: number) => number): Known => ({
  value: by(value),
  low: by(low),
  high: by(high),
});

/**
 * What is foretold of a recipe, for its limits. @param simulated null while that is under way: what only it tells is not known then
 */
export function foretoldOf(
  recipe: Recipe,
  context: ForecastContext,
  forecast: Forecast,
  simulated: Simulated | null,
): Quantities {
  return {
    ...(simulated ? simulatedOf(recipe, simulated) : notYet),
    ...stationsOf(forecast),
    ...driveOf(context, forecast),
    ...pictureOf(recipe, context, forecast),
    opens: opensIn(context.brief, recipe),
    size: rangeOf(forecast.bits, bytesPerHour),
    'if-it-dies': deathOf(recipe, context, forecast),
    colours: coloursOf(context),
  };
}

const perMinute = (count: number): string => (count >= 9.95 ? formatCount(Math.round(count)) : count.toFixed(1));

function simulatedOf({ rate }: Recipe, { missesPerMinute, playCost, byStation }: Simulated): Quantities {
  const due = framesPerSecond(rate) * 60;
  const { value, low, high } = missesPerMinute;
  const most = stationNames.reduce<Station | null>(
    (a, b) => ((byStation[b] ?? 0) > (a ? (byStation[a] ?? 0) : 0) ? b : a),
    null,
  );
  const where = most ? `, most at ${stationWords[most]}` : '';
  const misses = `${perMinute(value)} a minute (${perMinute(low)} to ${perMinute(high)})`;
  const cost = `${formatPercent(playCost.value)} (${(playCost.low * 100).toFixed(1)} to ${formatPercent(playCost.high)})`;
  return {
    lost: {
      ...rangeOf(missesPerMinute, (count) => count / due),
      words: misses,
      sentence: `Frames are expected to be lost: ${misses}${where}.`,
    },
    'play-cost': {
      ...rangeOf(playCost, (share) => share),
      words: cost,
      sentence: `Recording is expected to take ${cost} of the game in busy passages.`,
    },
  };
}

/** The station nearest to its budget in its busiest 1 %; the drive is judged by its write speed. */
function stationsOf({ loads }: Forecast): Quantities {
  let tight: { station: Station; load: Known & { budget: number } } | null = null;
  for (const station of stationNames) {
    const load = loads[station];
    if (!load || station === 'game' || station === 'drive') continue;
    const { busiest, low, high, budget } = load;
    const share = busiest / budget;
    if (!tight || share > tight.load.value)
      tight = { station, load: { value: share, low: low / budget, high: high / budget, budget } };
  }
  if (!tight) return {};
  const { station, load } = tight;
  const share = formatPercent(load.value);
  const ms = `${(load.value * load.budget).toFixed(1)} of ${load.budget.toFixed(1)} ms`;
  return {
    'head-room': {
      ...rangeOf(load, (one) => one),
      words: `${stationWords[station]} ${share} of its time (${formatPercent(load.low)} to ${formatPercent(load.high)})`,
      sentence: `${stationWords[station]} needs ${ms} in the busiest 1 %, ${share} of its time.`,
    },
  };
}

function driveOf({ brief }: ForecastContext, { speed, drive, bits, roomMinutes }: Forecast): Quantities {
  const found: Quantities = {};
  const available = speed?.availableBytesPerSecond ?? null;
  if (speed && drive) {
    const of = (bitsPerSecond: number): number => (available ?? 0) / Math.max(1, bitsPerSecond / 8);
    found['drive-rate'] =
      available === null
        ? { unknown: `the speed of ${drive.name} was not measured` }
        : {
            ...{ value: of(bits.value), low: of(bits.high), high: of(bits.low) },
            sentence: `${drive.name} writes ${formatBytes(available)}/s beside the game, and the file needs ${formatBytes(bits.value / 8)}/s.`,
          };
  }
  if (roomMinutes !== null && drive)
    found.room = {
      // The larger the file is, the less of it fits.
      ...{
        value: roomMinutes,
        low: roomMinutes * (bits.value / bits.high),
        high: roomMinutes * (bits.value / bits.low),
      },
      sentence: `${Math.floor(roomMinutes)} min fit on ${drive.name}, and a session is ${brief.sessionMinutes} min.`,
    };
  return found;
}

function pictureOf(recipe: Recipe, { game }: ForecastContext, { picture, smallText }: Forecast): Quantities {
  const fps = framesPerSecond(recipe.rate);
  const reach = gameReachFps(game);
  const { ssim, word } = picture;
  return {
    picture: ssim
      ? {
          ...rangeOf(ssim, (one) => one),
          words: `${ssim.value.toFixed(3)} (${ssim.low.toFixed(3)} to ${ssim.high.toFixed(3)})`,
          sentence: `The picture is expected to be ${word === 'cannot be told apart' ? 'like the original' : word}: SSIM ${ssim.value.toFixed(3)} (${ssim.low.toFixed(3)} to ${ssim.high.toFixed(3)}).`,
        }
      : exactly(1, 'exact'),
    'small-text': exactly(smallText.filePx),
    ...(reach !== null && {
      repeats: exactly(
        Math.max(0, 1 - reach / fps),
        `${formatFps(reach)} for ${formatFps(fps)}`,
        `The game shows ${formatFps(reach)} for ${formatFps(fps)}: ${formatPercent(Math.max(0, 1 - reach / fps))} of the frames are repeats.`,
      ),
    }),
  };
}

/** A file that only its end makes readable is lost whole where the PC dies. */
function deathOf({ container }: Recipe, { brief }: ForecastContext, { secondsLost }: Forecast): Known {
  const { survives, name } = containerWords[container];
  return survives
    ? exactly(secondsLost, `${secondsLost.toFixed(1)} s lost at most`)
    : exactly(brief.sessionMinutes * 60, `${name}, all of it`, `${name} may be lost whole where the PC dies.`);
}

function coloursOf({ machine }: ForecastContext): Quantity {
  const display = machine?.displays.find(({ hdr }) => hdr);
  if (!display) return exactly(0);
  const sentence = `${display.name} shows a high dynamic range, the file does not: a game that uses it loses it for good.`;
  return { value: 0, low: 0, high: 1, words: 'perhaps changed', sentence };
}
