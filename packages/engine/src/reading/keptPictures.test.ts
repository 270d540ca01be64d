import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { picturesToKeep } from '@mellow/core';
import type { TakeOrder } from '@mellow/model';
import { createPictureKeeper, readKeptPictures } from './keptPictures';
import { pixelLayout } from '../native/pixelLayout';

let folder: string;
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'mellow-kept-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const rate = { num: 60, den: 1 };
const [widthPx, heightPx] = [16, 16];
const layout = pixelLayout('yuv420p', widthPx, heightPx, false);

/** Which of so many frames were kept, every one accepted but those that are left out. */
function keptOf(frames: number, openEnd: boolean, lost: (n: number) => boolean = () => false): number[] {
  const order = { keepPictures: true, openEnd, dueFrames: openEnd ? 60 * 86_400 : frames, recipe: { rate } };
  const keeper = createPictureKeeper(order as TakeOrder, layout);
  const planes = [new Uint8Array(layout.bytes), new Uint8Array(layout.bytes), new Uint8Array(layout.bytes)];
  for (let n = 0; n < frames; n++) if (!lost(n)) keeper.see(n, planes);
  const path = join(folder, `${frames}-${openEnd}.bin`);
  keeper.writeTo(path);
  return [...readKeptPictures(path, widthPx, heightPx)].map(({ n }) => n);
}
const most = picturesToKeep(60 * 86_400, rate, widthPx * heightPx);

describe('pictures that are kept of a take nobody knows the length of', () => {
  it.each([20, 61, 600, 7200])('after %d s are spread over all of it, and no more than of any other', (seconds) => {
    const kept = keptOf(seconds * 60, true);
    expect(kept.length).toBeLessThanOrEqual(most);
    expect(kept.length).toBeGreaterThanOrEqual(Math.min(seconds * 0.7, most / 2 - 1));
    expect(kept).toEqual([...kept].sort((a, b) => a - b));
    const gaps = kept.map((n, i) => n - (kept[i - 1] ?? 0));
    const mean = (seconds * 60) / kept.length;
    expect(Math.max(...gaps, seconds * 60 - (kept.at(-1) ?? 0))).toBeLessThan(mean * 4);
  });
  it('are not the key pictures only', () => {
    const keys = keptOf(36_000, true).filter((n) => n % 60 === 0);
    expect(keys.length).toBeLessThan(most / 4);
  });
  it('do not wait for frames that were lost', () => {
    const kept = keptOf(36_000, true, (n) => n > 5000 && n < 20_000);
    expect(kept.some((n) => n > 20_000 && n < 22_000)).toBe(true);
  });
});

it('of a take with a length there are as many as it wants, over all of it', () => {
  const kept = keptOf(600, false);
  expect(kept).toHaveLength(picturesToKeep(600, rate, widthPx * heightPx));
  expect(kept.at(-1)).toBeGreaterThan(550);
});
