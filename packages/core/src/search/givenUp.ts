import { pixelKinds, type Brief, type Concern, type Recipe } from '@mellow/model';
import { encoderFacts } from '../codec';
import { containerWords } from '../recipe/words';
import { framesPerSecond, periodUs } from '../units';
import type { Looked } from './looked';

/** What each place in the brief's order weighs. */
const weights = [4, 2, 1.4, 1] as const;
const above = (value: number): number => Math.max(0, value);
const pixelsOf = ({ size }: Recipe): number => size.widthPx * size.heightPx;

/**
 * What one recipe gives up against another, in the brief's order, so that of several remedies the one that costs least is offered
 * (ours): a hundredth of SSIM, a doubled size, a twentieth of the game and three seconds in a crash count alike.
 */
export function givenUp(from: Looked, to: Looked, brief: Brief): number {
  const weight = (concern: Concern): number => weights[brief.matters.indexOf(concern)] ?? 1;
  return (
    weight('picture') * pictureGivenUp(from, to, brief) +
    weight('small-files') * above(Math.log2(to.forecast.bits.value / from.forecast.bits.value)) +
    weight('game') * gameGivenUp(from, to) +
    weight('safety') * safetyGivenUp(from, to) +
    bother(from.recipe, to.recipe)
  );
}

/** How much of a picture scaled down each filter keeps, crisp ones most (common practice). */
const filterKeeps = { lanczos: 0, spline: 0.02, bicubic: 0.05, area: 0.1, bilinear: 0.25, nearest: 1 } as const;
const filterGivenUp = (was: Recipe, is: Recipe): number =>
  above(filterKeeps[is.size.filter] - filterKeeps[was.size.filter]);

/** What it counts that samples are no longer exact, by what the footage is for. */
const exactness: Partial<Record<Brief['purpose'], number>> = { master: 2.5 };

function pictureGivenUp(from: Looked, to: Looked, brief: Brief): number {
  const ssim = ({ forecast }: Looked): number => forecast.picture.ssim?.value ?? 1;
  const [was, is] = [from.recipe, to.recipe];
  const [fpsWas, fpsIs] = [framesPerSecond(was.rate), framesPerSecond(is.rate)];
  // What is not shown is no loss to those who look; only what could be cut out of it is.
  const unseenLines = is.size.heightPx >= brief.shownLines ? 0.3 : 1;
  const unseenRate = fpsIs >= brief.shownFps && brief.purpose !== 'slow-motion' ? 0.3 : 1;
  return (
    above(ssim(from) - ssim(to)) / 0.01 +
    (from.forecast.picture.ssim === null && to.forecast.picture.ssim !== null ? (exactness[brief.purpose] ?? 0.3) : 0) +
    1.5 * unseenLines * above(Math.log2(pixelsOf(was) / pixelsOf(is))) +
    2 * unseenRate * above(Math.log2(fpsWas / fpsIs)) +
    0.5 * above(pixelKinds.indexOf(was.encode.pixels) - pixelKinds.indexOf(is.encode.pixels)) +
    lanesGivenUp(was, is, brief) +
    filterGivenUp(was, is)
  );
}

function lanesGivenUp({ lanes: was }: Recipe, { lanes: is }: Recipe, { soundLayout }: Brief): number {
  const lost = above(was.length - is.length);
  const wanted = soundLayout === 'mix' ? 0.1 : 0.7;
  const coarser = is.some(({ codec }, i) => codec === 'aac' && ['flac', 'pcm'].includes(was[i]?.codec ?? ''));
  return lost * wanted + (coarser ? 0.1 : 0);
}

/** What the game loses more by the simulation; without one a guess by the time of one core that recording takes for each second. */
function gameGivenUp(from: Looked, to: Looked): number {
  if (from.simulated && to.simulated)
    return above((to.simulated.playCost.value - from.simulated.playCost.value) / 0.05);
  return above(coresOf(to) - coresOf(from));
}
function coresOf({ recipe, forecast }: Looked): number {
  const { encode, size } = forecast.work;
  const software = encoderFacts[recipe.encode.encoder].place === 'software';
  return ((software ? encode.value : 0) + (size?.value ?? 0)) / periodUs(recipe.rate);
}

function safetyGivenUp(from: Looked, to: Looked): number {
  const survives = ({ recipe }: Looked): boolean => containerWords[recipe.container].survives;
  return (
    above(to.forecast.secondsLost - from.forecast.secondsLost) / 3 +
    (survives(from) && !survives(to) ? 3 : 0) +
    (to.recipe.parts.by === 'striped' && from.recipe.parts.by !== 'striped' ? 0.5 : 0)
  );
}

/** A block leaves the processor to the game, whatever a forecast says of it: leaving it is the last thing to do. */
const leavesBlock = 3;
const onBlock = ({ encode }: Recipe): boolean => encoderFacts[encode.encoder].place !== 'software';

/** What a change asks of the person beside the take: another standard in the editor, another place to look, a file more. */
function bother(was: Recipe, is: Recipe): number {
  const standard = (recipe: Recipe): string => encoderFacts[recipe.encode.encoder].standard;
  return (
    (standard(was) !== standard(is) ? 0.6 : 0) +
    (was.encode.encoder !== is.encode.encoder ? 0.1 : 0) +
    (onBlock(was) && !onBlock(is) ? leavesBlock : 0) +
    (was.driveId !== is.driveId ? 0.1 : 0) +
    0.2 * above(is.nextDriveIds.length - was.nextDriveIds.length) +
    (is.rewrap && !was.rewrap ? 0.1 : 0) +
    (was.encode.bFrames !== is.encode.bFrames ? 0.05 : 0) +
    0.02
  );
}
