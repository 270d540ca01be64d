import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { openTakeBench, type TakeBench } from '../test/support/drivenTake';
import { expectSameEachTime, play, sampleAt } from '../test/support/samplePlay';

let bench: TakeBench;
beforeAll(async () => void (bench = await openTakeBench()));
afterAll(() => bench.close());

describe('a sample of a quarter of a minute', () => {
  it.each(['4:2:0', 'rgb'] as const)('in %s is the same each time it is played', (pixels) =>
    expectSameEachTime(bench, pixels, 15),
  );
});

it('that cannot be decoded as fast as it plays says how many of its pictures were left out', async () => {
  const path = join(bench.folder, 'heavy.mkv');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=1920x1080:r=60:d=1', '-vf', 'noise=alls=20:allf=t'],
    ...['-c:v', 'ffv1', '-level', '3', '-pix_fmt', 'yuv420p', path],
  ]);
  const take = await play(bench, await sampleAt(path), 2, { size: { widthPx: 320, heightPx: 180 } });
  // Of some 120 pictures, decoded in tens of milliseconds each.
  expect(take.result.sampleLeftOut).toBeGreaterThan(20);
  expect(take.result.sampleLeftOut).toBeLessThanOrEqual(121);
  // It goes on all the same, as far as it can.
  expect(take.result.summary.fates.new).toBeGreaterThan(4);
});
