import { isGrabbed, type PracticeGame, type Recipe, type ScalingFilter } from '@mellow/model';
import { cameraPart } from '../picture/camera';
import { encoderFacts, fileMatrix, fileRange } from '../codec/encoders';
import { nothingToScale, type SizePx } from '../picture/shape';

const drawnAs420 = ({ source }: Recipe): boolean =>
  !isGrabbed(source) && (source.kind !== 'sample' || source.pixels === 'yuv420p');

/**
 * Whether the source's pictures go to the encoder as they are: same size, and the 4:2:0, limited range and Rec. 709 in
 * which the practice game draws. Every other kind of pixel is made at Size, and of red, green and blue from the screen all.
 */
export const passesThrough = (game: Pick<PracticeGame, 'widthPx' | 'heightPx'>, recipe: Recipe): boolean =>
  drawnAs420(recipe) &&
  cameraPart(recipe) === null &&
  nothingToScale(game, recipe.size) &&
  fileRange(recipe) === 'limited' &&
  fileMatrix(recipe) === 'bt709' &&
  recipe.encode.pixels === '4:2:0' &&
  encoderFacts[recipe.encode.encoder].place !== 'processor-graphics';

/** Microseconds of one core to scale a million pixels, by those read and those written (measured here, with accurate rounding). */
const scalingUs: Record<ScalingFilter, { read: number; written: number }> = {
  nearest: { read: 2700, written: 1700 },
  bilinear: { read: 1100, written: 1200 },
  bicubic: { read: 1400, written: 1300 },
  area: { read: 800, written: 1350 },
  lanczos: { read: 3000, written: 1700 },
  spline: { read: 2600, written: 3800 },
};
/** The same to convert a million pixels, in our own kernel or the library's scaler (measured here). */
const convertingUs = { fromColours: 1200, toColours: 6000, otherMatrix: 2600, layout: 800, copy: 700 };

/** Work of Size for a frame, microseconds of one core of a machine that is `speed` times as fast as the one measured. */
export function sizeWorkUs(game: SizePx, recipe: Recipe, speed: number): number {
  const read = (game.widthPx * game.heightPx) / 1e6;
  const written = (recipe.size.widthPx * recipe.size.heightPx) / 1e6;
  const { read: perRead, written: perWritten } = scalingUs[recipe.size.filter];
  const same = game.widthPx === recipe.size.widthPx && game.heightPx === recipe.size.heightPx;
  return ((same ? 0 : read * perRead + written * perWritten) + conversionUs(recipe, read, written)) / speed;
}

function conversionUs(recipe: Recipe, read: number, written: number): number {
  const coloured = recipe.encode.pixels === 'rgb';
  if (!drawnAs420(recipe)) return read * (coloured ? convertingUs.copy : convertingUs.fromColours);
  if (coloured) return written * convertingUs.toColours;
  if (fileMatrix(recipe) !== 'bt709' || fileRange(recipe) !== 'limited') return written * convertingUs.otherMatrix;
  const planar420 =
    recipe.encode.pixels === '4:2:0' && encoderFacts[recipe.encode.encoder].place !== 'processor-graphics';
  return planar420 ? 0 : written * convertingUs.layout;
}
