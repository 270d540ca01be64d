import type { Camera, Recipe } from '@mellow/model';
import { framesPerSecond } from '../units';
import type { SizePx } from './shape';

const even = (px: number): number => Math.round(px / 2) * 2;

/** Where a camera lies in the file's picture, pixels; sides and corners even, as 4:2:0 asks. */
export interface CameraPart extends SizePx {
  leftPx: number;
  topPx: number;
}

type Pictured = Pick<Recipe, 'size'> & { camera?: Recipe['camera'] };

/** Size of the file's picture: beside a camera it is twice as wide as the game's part. */
export const filedSize = ({ size, camera }: Pictured): SizePx => ({
  widthPx: camera?.where === 'beside' ? size.widthPx * 2 : size.widthPx,
  heightPx: size.heightPx,
});

/** A recipe by the picture that its encoder is given, for all that counts the file's pixels. */
export const asFiled = <R extends Pictured>(recipe: R): R =>
  recipe.camera?.where === 'beside'
    ? { ...recipe, camera: null, size: { ...recipe.size, ...filedSize(recipe) } }
    : recipe;

/** Where the camera lies in the file's picture; null where it is not in it. */
export function cameraPart(recipe: Pick<Recipe, 'size' | 'camera'>): CameraPart | null {
  const { size, camera } = recipe;
  if (!camera || camera.where === 'own-file') return null;
  if (camera.where === 'beside') return { leftPx: size.widthPx, topPx: 0, ...sizeOnly(size) };
  const widthPx = Math.max(16, Math.min(size.widthPx & ~1, even(size.widthPx * camera.widthShare)));
  const heightPx = Math.max(16, Math.min(size.heightPx & ~1, even((widthPx * camera.heightPx) / camera.widthPx)));
  const within = (share: number, whole: number, part: number): number =>
    Math.max(0, Math.min((whole - part) & ~1, even(whole * share)));
  return {
    leftPx: within(camera.leftShare, size.widthPx, widthPx),
    topPx: within(camera.topShare, size.heightPx, heightPx),
    widthPx,
    heightPx,
  };
}

function sizeOnly({ widthPx, heightPx }: SizePx): SizePx {
  return { widthPx, heightPx };
}

/** Corners by where they lie: to the left or the right, above or below. */
export const cameraCorners = {
  'upper left': { right: false, below: false },
  'upper right': { right: true, below: false },
  'lower left': { right: false, below: true },
  'lower right': { right: true, below: true },
} as const;
export type CameraCorner = keyof typeof cameraCorners;

/** Left free at the picture's edges, shares of its width and of its height. */
const edge = { side: 0.02, level: 0.03 } as const;

/** A camera over the game in a corner of a picture, a little away from the edges. */
export function cameraInCorner(camera: Camera, corner: CameraCorner, picture: SizePx): Camera {
  const { right, below } = cameraCorners[corner];
  const heightShare = (camera.widthShare * picture.widthPx * camera.heightPx) / camera.widthPx / picture.heightPx;
  return {
    ...camera,
    leftShare: right ? Math.max(0, 1 - camera.widthShare - edge.side) : edge.side,
    topShare: below ? Math.max(0, 1 - heightShare - edge.level) : edge.level,
  };
}

/** Faces show more than a game's edges do: a number less beside them. */
const qualityStep = 1;
/** Twice the pixels ask for twice the bitrate, with much motion for half as much again of the first (common practice: 2 to 2.5). */
const byArea = { usual: 2, fast: 2.5 } as const;

/** What a recipe's encoder is set to for the game alone, for game and camera side by side. */
export function encodeForBoth(encode: Recipe['encode'], fast: boolean): Recipe['encode'] {
  const by = fast ? byArea.fast : byArea.usual;
  const kbps = (value: number, most: number): number => Math.min(most, Math.round(value * by));
  return {
    ...encode,
    bitrateKbps: kbps(encode.bitrateKbps, 400_000),
    ceilingKbps: kbps(encode.ceilingKbps, 600_000),
    quality: Math.max(0, encode.quality - qualityStep),
  };
}

/** Work of scaling a megapixel of a camera's picture, of laying it over without and with the game shining through, microseconds (measured once). */
const usPerMegapixel = { scaled: 2600, laid: 400, blended: 6000 } as const;

/** Work that a camera adds to Size, microseconds of one core a frame of the file. */
export function cameraWorkUs(recipe: Pick<Recipe, 'size' | 'camera' | 'rate'>): number {
  const part = cameraPart(recipe);
  const { camera } = recipe;
  if (!part || !camera) return 0;
  const megapixels = (part.widthPx * part.heightPx) / 1e6;
  const scaledShare = Math.min(1, camera.fps / framesPerSecond(recipe.rate));
  const laid = camera.opacity < 1 && camera.where === 'over' ? usPerMegapixel.blended : usPerMegapixel.laid;
  return megapixels * (usPerMegapixel.scaled * scaledShare + laid);
}
