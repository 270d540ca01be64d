import { execFileSync } from 'node:child_process';
import type { Camera, Recipe } from '@mellow/model';
import { cameraSchema } from '@mellow/model';
import { readStrip, type StripReading } from '@mellow/practice';
import type { MadeTake, TakeBench, TakeChange } from './drivenTake';

/** The camera lies where neither of the game's strips does. */
export const standIn = (part: Partial<Camera> = {}): Camera =>
  cameraSchema.parse({
    from: { kind: 'stand-in' },
    leftShare: 0.25,
    topShare: 0.25,
    widthShare: 0.5,
    ...part,
  });

export const gameSize = { widthPx: 1280, heightPx: 720 };

/** A take without loss, of a game of 1280x720 at its own size, with a camera. */
export const withCameraTake = (
  bench: TakeBench,
  camera: Camera | null,
  { encode, order, recipe, ...rest }: TakeChange = {},
): Promise<MadeTake> =>
  bench.make({
    ...rest,
    game: { ...gameSize, ...rest.game },
    recipe: { rate: { num: 60, den: 1 }, lanes: [], container: 'matroska', camera, ...recipe },
    size: { ...gameSize, ...rest.size },
    encode: { encoder: 'ffv1-software', rateControl: 'lossless', ...encode },
    order: { dueFrames: 20, ...order },
  });

interface Part {
  leftPx: number;
  topPx: number;
  widthPx: number;
  heightPx: number;
}

/** Luma of a part of every picture (FFmpeg's crop filter; even corners, so that nothing is moved). */
export function lumaOf(path: string, part: Part): Uint8Array[] {
  const { leftPx, topPx, widthPx, heightPx } = part;
  const raw = execFileSync(
    'ffmpeg',
    [
      ...['-v', 'error', '-i', path, '-map', '0:v:0', '-fps_mode', 'passthrough'],
      ...['-vf', `crop=${widthPx}:${heightPx}:${leftPx}:${topPx},format=gray`, '-f', 'rawvideo', '-'],
    ],
    { maxBuffer: 1 << 30 },
  );
  const bytes = widthPx * heightPx;
  return Array.from({ length: raw.length / bytes }, (_, i) => raw.subarray(i * bytes, (i + 1) * bytes));
}

/** What the strip in a part of every picture says, drawn at `drawn` and scaled to the part. */
export const stripsIn = (
  path: string,
  part: Part,
  drawn: { widthPx: number; heightPx: number },
): (StripReading | null)[] =>
  lumaOf(path, part).map((luma) =>
    readStrip(luma, part.widthPx, part.widthPx, part.heightPx, drawn.widthPx, drawn.heightPx),
  );

/** A camera that is half seen through is the mean of the game without it and the camera whole. */
export async function expectHalf(bench: TakeBench, pixels: Recipe['encode']['pixels']): Promise<void> {
  const small = { game: { widthPx: 640, heightPx: 360 }, size: { widthPx: 640, heightPx: 360 } };
  const of = async (opacity: number | null) => {
    const seen = opacity === null ? null : standIn({ opacity, widthPx: 320, heightPx: 180 });
    const take = await withCameraTake(bench, seen, { ...small, encode: { pixels }, order: { dueFrames: 2 } });
    return lumaOf(take.result.filePath, { leftPx: 160, topPx: 90, widthPx: 320, heightPx: 180 })[1]!;
  };
  const [none, whole, half] = [await of(null), await of(1), await of(0.5)];
  expect(Buffer.compare(Buffer.from(none), Buffer.from(whole))).not.toBe(0);
  const off = half.map((value, i) => Math.abs(value - ((none[i] ?? 0) + (whole[i] ?? 0)) / 2));
  expect(off.reduce((most, value) => Math.max(most, value))).toBeLessThanOrEqual(2);
}
