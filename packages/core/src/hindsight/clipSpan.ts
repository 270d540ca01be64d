/** A coded picture as it left the encoder: presentation and decoding in due frames. */
export interface CodedPicture {
  pts: number;
  dts: number;
  key: boolean;
}

/** Pictures from `first` up to and without `end`, in decoding order; presentation from `startPts` up to and without `endPts`. */
export interface ClipSpan {
  first: number;
  end: number;
  startPts: number;
  endPts: number;
}

/**
 * The part of a run of coded pictures that can stand alone: begins at the newest key picture that is at least so many frames
 * before the end (or the oldest there is), and ends where no picture is missing that is shown before another one.
 * @param reorders the encoder may show pictures in another order than it decodes them
 * @returns null where there is no key picture, or nothing that is whole
 */
export function clipSpan(pictures: readonly CodedPicture[], wantedFrames: number, reorders: boolean): ClipSpan | null {
  const end = wholeEnd(pictures, reorders);
  if (end === 0) return null;
  let endPts = -Infinity;
  for (let i = 0; i < end; i++) endPts = Math.max(endPts, (pictures[i]?.pts ?? 0) + 1);
  let first = -1;
  for (let i = 0; i < end; i++) {
    const picture = pictures[i];
    if (!picture?.key || (first >= 0 && picture.pts > endPts - wantedFrames)) continue;
    first = i;
  }
  const start = pictures[first];
  return start ? { first, end, startPts: start.pts, endPts } : null;
}

/** Up to where every picture is there that is shown before the last one: all that follow are shown later. */
function wholeEnd(pictures: readonly CodedPicture[], reorders: boolean): number {
  if (!reorders) return pictures.length;
  const highest: number[] = [];
  let most = -Infinity;
  for (const { pts } of pictures) highest.push((most = Math.max(most, pts)));
  let least = Infinity;
  for (let i = pictures.length - 1; i > 0; i--) {
    least = Math.min(least, pictures[i]?.pts ?? Infinity);
    if (least > (highest[i - 1] ?? 0)) return i;
  }
  return 0;
}
