import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { framesPerSecond } from '@mellow/core';
import { reserveFile, type Reservation } from '@mellow/engine';
import type { EngineEvent, HindsightOrder, Kept, TakeOrder } from '@mellow/model';
import type { MadeTake, TakeBench, TakeChange } from './drivenTake';
import { decodeLuma, decodeSound, probePictures } from './probe';

export const holding = (bench: TakeBench, change: Partial<HindsightOrder> = {}): HindsightOrder => ({
  lengthS: 20,
  where: 'memory',
  folder: join(bench.folder, 'held'),
  limitBytes: 1e9,
  ...change,
});

type LiveEvent = Extract<EngineEvent, { type: 'live' }>['live'];

export interface KeptClip {
  reserved: Reservation;
  kept: Kept;
}

/** Asks for the last seconds once so many frames were due, as often as there are numbers. */
export function keepAt(
  bench: TakeBench,
  suffix: string,
  asks: readonly { due: number; lastS: number }[],
): { clips: Promise<KeptClip[]>; stop: () => void } {
  const recorder = bench.recorder();
  const reserved = asks.map((_, i) => reserveFile(join(bench.folder, `clip-${i}.${suffix}`)));
  const answers = new Map<string, Kept>();
  let asked = 0;
  let done: (clips: KeptClip[]) => void = () => {};
  const clips = new Promise<KeptClip[]>((resolve) => (done = resolve));
  const stop = recorder.onEvent((event) => {
    if (event.type === 'live')
      for (let ask = asks[asked]; ask && isTime(event.live, ask); ask = asks[asked]) {
        const target = reserved[asked] as Reservation;
        recorder.keep({ id: `${asked}`, lastS: ask.lastS, ...target });
        asked++;
      }
    if (event.type !== 'kept') return;
    answers.set(event.kept.id, event.kept);
    if (answers.size === asks.length)
      done(reserved.map((one, i) => ({ reserved: one, kept: answers.get(`${i}`) as Kept })));
  });
  return { clips, stop };
}

/** So much was due, and an encoder that works on many pictures at once has let some out; where nothing is held, that is told. */
const isTime = ({ due, held, state }: LiveEvent, ask: { due: number; lastS: number }): boolean =>
  due >= ask.due && (held === null || state !== 'rolling' || held.heldS >= Math.min(1, ask.lastS));

const hashes = (luma: Buffer, pixels: number): string[] =>
  Array.from({ length: luma.length / pixels }, (_, i) =>
    createHash('sha1')
      .update(luma.subarray(i * pixels, (i + 1) * pixels))
      .digest('hex'),
  );

/**
 * A clip is a part of its take, picture by picture to the bit, at the same distance from each other, and sound by sample;
 * it begins with a key picture at 0 and its first picture can be decoded.
 */
export function expectPartOf(take: MadeTake, { reserved, kept }: KeptClip, lastS: number): void {
  if (!kept.ok) throw new Error(kept.why);
  const { recipe } = take.order;
  const fps = framesPerSecond(recipe.rate);
  const pixels = recipe.size.widthPx * recipe.size.heightPx;
  const all = probePictures(take.result.filePath);
  const part = probePictures(reserved.path);
  expect(part).toHaveLength(kept.pictures);
  expect(part[0]?.key).toBe(true);
  const allHashes = hashes(decodeLuma(take.result.filePath), pixels);
  const partHashes = hashes(decodeLuma(reserved.path), pixels);
  expect(partHashes).toHaveLength(part.length);
  const from = all.findIndex(({ timeUs }) => Math.abs(timeUs - kept.startUs) < 2000);
  expect(from).toBeGreaterThanOrEqual(0);
  expect(partHashes).toEqual(allHashes.slice(from, from + part.length));
  const beginUs = all[from]?.timeUs ?? 0;
  part.forEach(({ timeUs }, i) =>
    expect(Math.abs(timeUs - (part[0]?.timeUs ?? 0) - ((all[from + i]?.timeUs ?? 0) - beginUs))).toBeLessThan(2100),
  );
  // The promised length, within one key picture's distance, or all there was.
  // Keys are counted in frames of the file: where the PC lost some, they are further apart.
  const keysUs = all.filter(({ key }) => key).map(({ timeUs }) => timeUs);
  const gapsS = keysUs.slice(1).map((us, i) => (us - (keysUs[i] ?? 0)) / 1e6);
  const keyS = Math.max(recipe.encode.keyDistanceFrames / fps, ...gapsS);
  expect(kept.lengthUs / 1e6).toBeGreaterThanOrEqual(Math.min(lastS, (kept.startUs + kept.lengthUs) / 1e6) - 1e-6);
  expect(kept.lengthUs / 1e6).toBeLessThanOrEqual(lastS + keyS + 1e-6);
  recipe.lanes.forEach((_, lane) => expectSound(take, reserved.path, kept.startUs, lane));
}

/** Sound of the clip against the take's at the same time: the same samples, but for the first tenth, where a packet may be missing. */
function expectSound(take: MadeTake, path: string, startUs: number, lane: number): void {
  const whole = decodeSound(take.result.filePath, lane);
  const part = decodeSound(path, lane);
  const at = Math.round((startUs * 48_000) / 1e6);
  const skip = 9600;
  expect(part.length).toBeGreaterThan(skip * 2);
  let worst = 0;
  let loud = 0;
  // Matroska keeps milliseconds: the two may lie up to a millisecond apart.
  const off = shiftBetween(whole, part, at, skip);
  for (let i = skip; i < part.length - 4800; i++) {
    worst = Math.max(worst, Math.abs((part[i] ?? 0) - (whole[at + i + off] ?? 0)));
    loud = Math.max(loud, Math.abs(part[i] ?? 0));
  }
  expect(loud).toBeGreaterThan(0.001);
  expect(worst).toBeLessThan(take.order.recipe.lanes[lane]?.codec === 'flac' ? 1e-4 : 0.02);
}

function shiftBetween(whole: Float32Array, part: Float32Array, at: number, skip: number): number {
  let best = 0;
  let least = Infinity;
  for (let off = -96; off <= 96; off++) {
    let sum = 0;
    for (let i = skip; i < skip + 2400; i++) sum += Math.abs((part[i] ?? 0) - (whole[at + i + off] ?? 0));
    if (sum < least) [best, least] = [off, sum];
  }
  return best;
}

/** A take of some seconds on the clock, of which parts are kept while it rolls. */
export async function takeWithClips(
  bench: TakeBench,
  change: TakeChange,
  hindsight: Partial<HindsightOrder>,
  asks: readonly { due: number; lastS: number }[],
): Promise<{ take: MadeTake; clips: KeptClip[] }> {
  const order: Partial<TakeOrder> = { clock: 'real', hindsight: holding(bench, hindsight), ...change.order };
  const suffix = change.recipe?.container && change.recipe.container !== 'matroska' ? 'mp4' : 'mkv';
  const { clips, stop } = keepAt(bench, suffix, asks);
  try {
    const take = await bench.make({ ...change, order });
    return { take, clips: await clips };
  } finally {
    stop();
  }
}
