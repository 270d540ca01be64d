import { existsSync, truncateSync, writeFileSync } from 'node:fs';
import { runMediaJob } from '@mellow/engine';
import { unpacedSchema } from '@mellow/model';
import { openTakeBench, type TakeBench } from './support/drivenTake';
import {
  compared,
  expectAsFilterFinds,
  expectExact,
  expectTimed,
  keptOf,
  keptSize,
  makeKept,
  type SsimCase,
} from './support/keptTake';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

// Every encoder and kind of pixel: matrix/likeness.matrix.ts.
describe('the picture of a take is measured against what its encoder was given', () => {
  it.each<SsimCase>([['avc-software', { quality: 24 }, { recipe: { rate: { num: 30000, den: 1001 } } }]])(
    '%s %o %o: as FFmpeg’s filter finds it, against a lossless take of the same frames',
    (...one) => expectAsFilterFinds(bench, one),
  );
  it.each([
    ['avc-software', '4:2:0'],
    ['ffv1-software', 'rgb'],
  ] as const)('lossless %s in %s is exact in every one', (encoder, pixels) => expectExact(bench, encoder, pixels));

  it('gaps in the file do not shift what is compared', async () => {
    const script = Array.from({ length: 40 }, (_, i) => ({
      kind: 'size-fails' as const,
      fromDue: 20 + i * 2,
      toDue: 21 + i * 2,
    }));
    const take = await makeKept(bench, 'ffv1-software', {}, { order: { script } });
    expect(take.result.summary.filed).toBeLessThan(150);
    expect((await compared(take))?.exact).toBe(true);
  });

  it('pictures of another take are found to be others', async () => {
    const [one, other] = [
      await makeKept(bench, 'ffv1-software'),
      await makeKept(bench, 'ffv1-software', {}, { game: { seed: 99, scene: 'tin-cathedral' } }),
    ];
    const found = await compared(one, keptOf(other));
    expect(found?.exact).toBe(false);
    expect(found?.ssim).toBeLessThan(0.7);
  });

  it('what was kept may be missing, empty or cut off', async () => {
    const take = await makeKept(bench, 'avc-software');
    const kept = keptOf(take);
    const each = 4 + keptSize.widthPx * keptSize.heightPx;
    truncateSync(kept, each * 3 + 1000);
    expect((await compared(take))?.pictures).toBe(3);
    writeFileSync(kept, '');
    expect(await compared(take)).toBeNull();
    expect(await compared(take, `${kept}.none`)).toBeNull();
  });

  it('keeps nothing where nothing is asked, and nothing of a turn that is thrown away', async () => {
    const take = await makeKept(bench, 'avc-software', {}, { order: { keepPictures: false } });
    expect(existsSync(keptOf(take))).toBe(false);
  });
});

describe('an encoder is timed after the take', () => {
  it('on frames of its own file', () => expectTimed(bench, 'avc-software'));
  it('takes what the file has where it is shorter, and refuses a file without pictures', async () => {
    const take = await makeKept(bench, 'avc-software', {}, { order: { dueFrames: 20 } });
    const job = { kind: 'encode-unpaced' as const, filePath: take.result.filePath, recipe: take.order.recipe, atUs: 0 };
    expect(unpacedSchema.parse(await runMediaJob({ ...job, frames: 120 })).frames).toBe(20);
    await expect(runMediaJob({ ...job, filePath: keptOf(take), frames: 120 })).rejects.toThrow('no recording');
  });
});
