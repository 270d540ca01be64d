import type { FrameRate, Likeness } from '@mellow/model';

/** Likeness of one picture: its number among the due ones, SSIM, and whether every sample was the same. */
export interface PictureLikeness {
  n: number;
  ssim: number;
  same: boolean;
}
const mostPictures = 60;
const mostBytes = 192e6;

/** How many pictures of a take are kept to be compared: five a second, and no more than memory allows. */
export function picturesToKeep(dueFrames: number, rate: FrameRate, bytesEach: number): number {
  const seconds = (dueFrames * rate.den) / rate.num;
  return Math.max(1, Math.min(dueFrames, mostPictures, Math.ceil(seconds * 5), Math.floor(mostBytes / bytesEach)));
}
const goldenRatio = 0.6180339887498949;

/**
 * The i-th of `count` kept pictures: one in each equal stretch, at a place in it that walks by the golden ratio, so that key
 * pictures and their distances are met as often as they come.
 */
export function keptPicture(i: number, count: number, dueFrames: number): number {
  const stretch = dueFrames / count;
  return Math.floor(i * stretch) + Math.floor(((i * goldenRatio) % 1) * Math.floor(stretch));
}

/** Overall and worst second (docs/model.md, "The picture"); null where nothing was compared. */
export function likenessOf(pictures: readonly PictureLikeness[], rate: FrameRate): Likeness | null {
  if (!pictures.length) return null;
  const bySecond = new Map<number, number[]>();
  for (const { n, ssim } of pictures) {
    const second = Math.floor((n * rate.den) / rate.num);
    bySecond.set(second, [...(bySecond.get(second) ?? []), ssim]);
  }
  const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;
  const [worstSecond, worst] = [...bySecond]
    .map(([second, values]) => [second, mean(values)] as const)
    .reduce((least, one) => (one[1] < least[1] ? one : least));
  return {
    pictures: pictures.length,
    ssim: mean(pictures.map((picture) => picture.ssim)),
    worstSecondSsim: worst,
    worstSecond,
    exact: pictures.every((picture) => picture.same),
  };
}
