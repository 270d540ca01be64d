import { stationNames, type Calibration, type MachineSheet, type RateProbe, type Take } from '@mellow/model';
import { filedSize } from '../picture/camera';
import { encoderFacts, sharesOf } from '../codec';
import { framesPerSecond } from '../units';
import { bitrateOf } from '../storage';

const lengthS = (take: Take): number =>
  take.summary ? (take.summary.due * take.recipe.rate.den) / take.recipe.rate.num : 0;

/**
 * Trials that tell of a machine: measured ones of this PC, those of the same name of a simulated one. One that played a sample
 * tells what its recipe costs with that as its source.
 */
export const trialsOn = (machine: MachineSheet, takes: readonly Take[]): Take[] =>
  takes
    .filter(
      (take) =>
        take.kind === 'trial' &&
        take.machine.origin === machine.origin &&
        (machine.origin === 'measured' || take.machine.name === machine.name),
    )
    .map((take) =>
      take.source.kind === 'sample' ? { ...take, recipe: { ...take.recipe, source: take.source } } : take,
    );

/** On a simulated machine the nearest encoder in software makes what a block would. */
const madeByStandIn = ({ machine, recipe }: Take): boolean =>
  machine.origin === 'simulated' && encoderFacts[recipe.encode.encoder].place !== 'software';

/** Bits a pixel and frame that a trial's picture track came to; null where too little was filed to tell. */
export function rateProbeOf(take: Take): RateProbe | null {
  const { facts, summary, recipe } = take;
  const { widthPx, heightPx } = filedSize(recipe);
  if (!facts || !summary || summary.filed < 30) return null;
  const seconds = lengthS(take);
  // By filed frames, so that lost ones do not make the picture look smaller.
  const bitsPerPixel = (facts.picture.pictureBytes * 8) / (widthPx * heightPx * summary.filed);
  if (!(bitsPerPixel > 0)) return null;
  return {
    trial: take.number,
    encode: recipe.encode,
    widthPx,
    heightPx,
    fps: framesPerSecond(recipe.rate),
    seconds,
    bitsPerPixel,
    shares: sharesOf(take.game.passages, seconds),
    likeness: take.likeness && { ssim: take.likeness.ssim, standIn: madeByStandIn(take) },
  };
}

/** What a setup's trials have taught. Loads of disturbed trials are left out: they tell more of other programs. */
export function calibrationOf(trials: readonly Take[]): Calibration {
  const newestFirst = trials.toSorted((a, b) => b.createdAt.localeCompare(a.createdAt));
  return {
    rates: newestFirst.flatMap((take) => rateProbeOf(take) ?? []).slice(0, 24),
    loads: newestFirst
      .filter((take) => take.summary && !take.summary.disturbed && lengthS(take) > 0)
      .slice(0, 8)
      .map((take) => loadsOf(take)),
    madeOn: newestFirst.find((take) => take.demo && take.machine.origin === 'measured')?.machine.name ?? null,
    errors: newestFirst.flatMap((take) => errorOf(take) ?? []).slice(0, 24),
  };
}

function loadsOf(take: Take): Calibration['loads'][number] {
  const { summary, playCost } = take;
  const fps = playCost?.with.meanFps ?? null;
  const gameCores = summary?.processor ? summary.processor.gameShare * summary.processor.cores : null;
  return {
    trial: take.number,
    recipe: take.recipe,
    gameSize: { widthPx: take.game.widthPx, heightPx: take.game.heightPx },
    cores: take.machine.cores,
    stations: Object.fromEntries(
      stationNames.map((name) => {
        const load = summary?.loads[name];
        return [name, load ? { usualMs: load.usualMs, busiestMs: load.busiestMs } : null];
      }),
    ) as Calibration['loads'][number]['stations'],
    gameProcessorUs: gameCores !== null && fps ? (gameCores * 1e6) / fps : null,
    gameFpsWithout: playCost?.without.meanFps ?? null,
    othersCores: summary?.processor ? summary.processor.othersShare * summary.processor.cores : 0,
  };
}

/** Found against predicted of one trial, as ratios. */
export function errorOf(take: Take): Calibration['errors'][number] | null {
  const { prediction, facts, summary } = take;
  if (!prediction || !facts || !summary) return null;
  const found = bitrateOf(facts.bytes, lengthS(take));
  const encode = summary.loads.encode?.busiestMs ?? null;
  const predicted = prediction.busiestMs.encode;
  return {
    trial: take.number,
    bitsRatio: prediction.bitsPerSecond && found > 0 ? found / prediction.bitsPerSecond.value : null,
    encodeRatio: encode !== null && predicted ? encode / predicted : null,
  };
}

/** Typical size of the errors kept, as a share: the mean of |log| of the ratios, over at least two trials. */
export function usualError(ratios: readonly (number | null)[]): number | null {
  const logs = ratios.flatMap((ratio) => (ratio && ratio > 0 ? [Math.abs(Math.log(ratio))] : []));
  return logs.length >= 2 ? Math.exp(logs.reduce((sum, value) => sum + value, 0) / logs.length) - 1 : null;
}
